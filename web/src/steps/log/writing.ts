/** An entry goes into the log of the axis as it stands: what is not saved yet is saved first. */
import { addLog, useForm } from "../../api/queries";
import type { LogBody } from "../../api/client";
import { useBench, usePick } from "../../design/context";

export function useWriting() {
  const { session } = useBench();
  const id = usePick((v) => v.id);
  return useForm(
    async (body: LogBody) => {
      await session.saveNow();
      return addLog(id)(body);
    },
    "log",
    "shelf",
  );
}
