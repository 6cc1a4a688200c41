/** Mounts that are only assumed to be rigid are no silent yes: they are named beside the verdict, with plates that would do. */
import { ask, type Design, type Plates } from "../api/client";
import { useForm } from "../api/queries";
import { useBench, usePick } from "../design/context";
import { Act } from "../kit/Act";
import { Failed } from "../kit/Notice";
import { counted } from "../units/format";
import css from "./ladder.module.css";

export function Rigid() {
  const { session } = useBench();
  const rigid = usePick((v) => v.report?.rigid?.join(" ") ?? "");
  const design = usePick((v) => v.design);
  const finding = useForm((of: Design) => ask<Plates>("/plates", { body: { design: of } }));
  if (!rigid) return null;
  const paths = rigid.split(" ");
  const found = finding.variables === design ? finding.data : undefined;
  return (
    <div className={css.rigid} data-rigid={paths.length}>
      <span>
        <b>{counted(paths.length, "mount")} assumed rigid.</b>{" "}
        {found && <span role="status">{found.says}</span>}
      </span>
      <span className={css.acts}>
        {!found && (
          <Act busy={finding.isPending} onClick={() => finding.mutate(design)}>
            Which plates would do?
          </Act>
        )}
        {found && Object.keys(found.changes).length > 0 && (
          <Act main onClick={() => session.setAll(found.changes)}>
            Take them
          </Act>
        )}
        <Act plain onClick={() => session.choose(paths.map((p) => `${p}.kind`))}>
          They are rigid
        </Act>
      </span>
      <Failed of={finding.error} />
    </div>
  );
}
