/** Every revision of an axis or of a machine's plan, newest first, a page at a time, each with what can be done with it. */
import type { UseMutationResult } from "@tanstack/react-query";
import { useRevisions } from "../api/queries";
import { Act } from "../kit/Act";
import { Fetched } from "../kit/Fetched";
import { Acts, Line, Table } from "../kit/sheets";
import { moment } from "../units/format";

interface Props {
  /** Whose: "axes/…/revisions" or "machines/…/plans". */
  of: string;
  /** The revision that stands. */
  version: number;
  says: string;
  back: Pick<UseMutationResult<unknown, Error, number>, "isPending" | "variables" | "mutate">;
}

export function RevisionTable({ of, version, says, back }: Props) {
  const revisions = useRevisions(of, version);
  return (
    <Fetched of={revisions} what="the revisions">
      {(found) => (
        <>
          <Table tall={300} label="Revisions">
            {found.pages.flat().map((r) => (
              <tr key={r.number} data-revision={r.number}>
                <td className="num">{r.number}</td>
                <td className="small num nowrap">{moment(r.at)}</td>
                <td className="small quiet">{r.why}</td>
                <Acts>
                  {r.number === version ? (
                    <span className="small">as it stands</span>
                  ) : (
                    <Act
                      busy={back.isPending && back.variables === r.number}
                      aria-label={`${says} revision ${r.number}`}
                      onClick={() => back.mutate(r.number)}
                    >
                      {says}
                    </Act>
                  )}
                </Acts>
              </tr>
            ))}
          </Table>
          {revisions.hasNextPage && (
            <Line foot>
              <Act busy={revisions.isFetchingNextPage} onClick={() => void revisions.fetchNextPage()}>
                Earlier revisions
              </Act>
            </Line>
          )}
        </>
      )}
    </Fetched>
  );
}
