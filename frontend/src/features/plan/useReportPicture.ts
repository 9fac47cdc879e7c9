import { useCallback } from "react";
import { putPicture, removePicture } from "../../api/client";
import { describe, useNotify } from "../../app/notices";
import type { PlanEditor } from "./usePlanEditor";

/** Put a picture of the open plan in 3D into its report, in the place of an older one. */
export function useReportPicture(planId: string, editor: PlanEditor): (picture: Blob) => void {
  const notify = useNotify();
  const { flush, savedRevision } = editor;
  return useCallback(
    (picture: Blob) => {
      const attempt = async (act: () => Promise<void>) => {
        try {
          await act();
        } catch (error) {
          const { title, detail } = describe(error);
          notify({
            title: "The report is unchanged",
            detail: `${title}. ${detail}`,
            tone: "trouble",
          });
        }
      };
      void attempt(async () => {
        await flush();
        await putPicture(planId, savedRevision(), picture);
        notify({
          title: "The report shows this picture",
          tone: "plain",
          action: {
            label: "Remove it",
            run: () =>
              void attempt(async () => {
                await removePicture(planId);
                notify({ title: "The report has no picture in 3D", tone: "plain" });
              }),
          },
        });
      });
    },
    [planId, flush, savedRevision, notify],
  );
}
