import { Button } from "./Button";

interface DialogButtonsProps {
  /** Whether something that is there is changed; else it is added. */
  known: boolean;
  onClose: () => void;
  onRemove: () => void;
  /** What taking it away is called. */
  removal: string;
}

/** The foot of a dialog in which one thing is added, changed or taken away. */
export function DialogButtons({ known, onClose, onRemove, removal }: DialogButtonsProps) {
  return (
    <div className="flex flex-wrap gap-2">
      <Button type="submit" tone="strong">
        {known ? "Change it" : "Add it"}
      </Button>
      <Button onClick={onClose}>Leave it</Button>
      {known && (
        <Button className="ml-auto" onClick={onRemove}>
          {removal}
        </Button>
      )}
    </div>
  );
}
