/** What was taken off the shelf: nothing was deleted, and each of it goes back. */
import { Button } from "@mantine/core";
import type { Off } from "../api/client";
import { useOffShelf, usePutBack } from "../api/queries";
import { Notice } from "../kit/Notice";
import { counted, moment } from "../units/format";

const pathOf = (o: Off) => `/${o.what === "axis" ? "axes" : "machines"}/${o.id}`;

export function TakenOff() {
  const off = useOffShelf();
  const back = usePutBack();
  if (off.error)
    return <Notice title="What was taken off the shelf cannot be shown">{off.error.message}</Notice>;
  if (!off.data?.length) return null;
  return (
    <section className="sheet" aria-label="Taken off the shelf">
      <h2>
        Taken off the shelf <span className="quiet">nothing was deleted</span>
      </h2>
      {back.error && <Notice title="That did not work">{back.error.message}</Notice>}
      <table className="rows">
        <tbody>
          {off.data.map((o) => (
            <tr key={o.id} data-off={o.what}>
              <td style={{ width: "26%" }}>
                <b>{o.name}</b>
              </td>
              <td className="small">
                {o.what === "machine"
                  ? `machine with ${counted(o.axes, "axis", "axes")}`
                  : `axis of ${o.machine}`}
              </td>
              <td className="small num quiet">{moment(o.at)}</td>
              <td className="r">
                <Button
                  size="compact-xs"
                  variant="default"
                  loading={back.isPending && back.variables === pathOf(o)}
                  aria-label={`Put ${o.name} back`}
                  onClick={() => back.mutate(pathOf(o))}
                >
                  Put it back
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
