/** What was taken off the shelf: nothing was deleted, and each of it goes back. */
import type { Off } from "../api/client";
import { useOffShelf, usePutBack } from "../api/queries";
import { Act } from "../kit/Act";
import { Fetched } from "../kit/Fetched";
import { Acts, Sheet, Table } from "../kit/sheets";
import { counted, moment } from "../units/format";

const pathOf = (o: Off) => `/${o.what === "axis" ? "axes" : "machines"}/${o.id}`;

export function TakenOff() {
  const off = useOffShelf();
  const back = usePutBack();
  return (
    <Fetched of={off} what="what was taken off the shelf" waiting={null}>
      {(all) =>
        all.length > 0 && (
          <Sheet title="Taken off the shelf" note="nothing was deleted" aria-label="Taken off the shelf">
            <Table>
              {all.map((o) => (
                <tr key={o.id} data-off={o.what}>
                  <td>
                    <b>{o.name}</b>
                  </td>
                  <td className="small">
                    {o.what === "machine"
                      ? `machine with ${counted(o.axes, "axis", "axes")}`
                      : `axis of ${o.machine}`}
                  </td>
                  <td className="small num quiet">{moment(o.at)}</td>
                  <Acts>
                    <Act
                      busy={back.isPending && back.variables === pathOf(o)}
                      aria-label={`Put ${o.name} back`}
                      onClick={() => back.mutate(pathOf(o))}
                    >
                      Put it back
                    </Act>
                  </Acts>
                </tr>
              ))}
            </Table>
          </Sheet>
        )
      }
    </Fetched>
  );
}
