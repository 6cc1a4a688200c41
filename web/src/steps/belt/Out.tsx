/** Takes out drawings and lists: SVG and DXF in millimetres, CSV, and sheets to print at full size. */
import { Link } from "react-router";
import { ask, type BeltPlan, type OutAnswer, type Start } from "../../api/client";
import { useChange } from "../../api/queries";
import { useBench, usePick } from "../../design/context";
import { Act } from "../../kit/Act";
import { saveAs } from "../../kit/save";
import { Acts, Sheet, Table } from "../../kit/sheets";

export default function Out({ plan }: { plan: BeltPlan }) {
  const { session, start } = useBench();
  const id = usePick((v) => v.id);
  const take = useChange(async ({ what, form }: { what: string; form: string }) => {
    const got = await ask<OutAnswer>("/out", { body: { design: session.get().design, what, form } });
    saveAs(got.name, got.files[0] ?? "", got.media);
  });
  return (
    <Sheet title="Take out" note="millimetres, full size; the sheets carry a ruler to check the printer">
      <Table>
        {plan.out.map((o) => (
          <tr key={o.what}>
            <td>{o.name}</td>
            <Acts>
              <Forms
                of="drawing"
                start={start}
                name={o.name}
                take={(form) => take.mutate({ what: o.what, form })}
              />
              <Link
                to={`/axis/${id}/sheets?what=${encodeURIComponent(o.what)}`}
                aria-label={`${o.name} to print at full size`}
              >
                print at full size
              </Link>
            </Acts>
          </tr>
        ))}
        <tr>
          <td>Cut list</td>
          <Acts>
            <Forms
              of="list"
              start={start}
              name="Cut list"
              take={(form) => take.mutate({ what: start.cut, form })}
            />
          </Acts>
        </tr>
      </Table>
    </Sheet>
  );
}

/** A button for each format that something goes out in. */
function Forms({
  of,
  start,
  name,
  take,
}: {
  of: "drawing" | "list";
  start: Start;
  name: string;
  take: (form: string) => void;
}) {
  return (
    <>
      {start.forms
        .filter((f) => f.of === of)
        .map((f) => (
          <span key={f.key}>
            <Act onClick={() => take(f.key)} aria-label={`${name} as ${f.name}`}>
              {f.name}
            </Act>{" "}
          </span>
        ))}
    </>
  );
}
