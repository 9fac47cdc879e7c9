import { Pencil, Trash2, X } from "lucide-react";
import { Dialog } from "radix-ui";
import type { Photo, StoredEntry } from "../../api/types";
import { timeText } from "../../domain/logbook/days";
import { headline, isWorry, KINDS } from "../../domain/logbook/kinds";
import { IconButton } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";

interface EntryRowProps {
  stored: StoredEntry;
  about: string;
  onEdit: () => void;
  onRemove: () => void;
  onRemovePhoto: (photo: Photo) => void;
}

/** One entry: what, about whom, when, and its photographs. */
export function EntryRow({ stored, about, onEdit, onRemove, onRemovePhoto }: EntryRowProps) {
  const { units } = usePreferences();
  const { entry, photos } = stored;
  const Icon = KINDS[entry.kind].icon;
  return (
    <li className="flex gap-3 py-2" data-testid={`entry-${entry.id}`}>
      <Icon
        size={20}
        aria-hidden
        className={`mt-0.5 shrink-0 ${isWorry(entry) ? "text-high" : "text-accent"}`}
      />
      <div className="min-w-0 flex-1">
        <p className="leading-snug">
          <span className="sr-only">{KINDS[entry.kind].label}: </span>
          <strong className={isWorry(entry) ? "text-high" : undefined}>
            {headline(entry, units)}
          </strong>
          <span className="text-soft">
            {" "}
            · {about} · {timeText(entry.at)}
          </span>
        </p>
        {entry.text && <p className="break-words whitespace-pre-line">{entry.text}</p>}
        {photos.length > 0 && (
          <ul className="mt-1.5 flex flex-wrap gap-2">
            {photos.map((photo, i) => (
              <li key={photo.id}>
                <Picture
                  photo={photo}
                  name={photo.caption || `Photograph ${i + 1} of ${headline(entry, units)}`}
                  onRemove={() => onRemovePhoto(photo)}
                />
              </li>
            ))}
          </ul>
        )}
      </div>
      <div className="flex shrink-0">
        <IconButton label="Change this entry" onClick={onEdit}>
          <Pencil size={16} aria-hidden />
        </IconButton>
        <IconButton label="Delete this entry" onClick={onRemove}>
          <Trash2 size={16} aria-hidden />
        </IconButton>
      </div>
    </li>
  );
}

function Picture({ photo, name, onRemove }: { photo: Photo; name: string; onRemove: () => void }) {
  return (
    <Dialog.Root>
      <Dialog.Trigger className="block overflow-hidden rounded-md border border-line">
        <img
          src={`/api/photos/${photo.id}?size=small`}
          alt={name}
          height={96}
          width={Math.round((96 * photo.width) / photo.height)}
          loading="lazy"
          className="h-24 w-auto"
        />
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/70" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 max-h-[92vh] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 rounded-lg bg-panel p-2"
        >
          <div className="flex items-center gap-2 pb-1">
            <Dialog.Title className="flex-1 px-1 font-semibold">{name}</Dialog.Title>
            <Dialog.Close asChild>
              <IconButton label="Delete this photograph" onClick={onRemove}>
                <Trash2 size={17} aria-hidden />
              </IconButton>
            </Dialog.Close>
            <Dialog.Close aria-label="Close" className="rounded p-2 hover:bg-wash">
              <X size={18} aria-hidden />
            </Dialog.Close>
          </div>
          <img
            src={`/api/photos/${photo.id}`}
            alt={name}
            className="max-h-[80vh] w-auto rounded object-contain"
          />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
