/** Every revision of an axis, newest first, a page at a time, each with what can be done with it. */
import { Button } from "@mantine/core";
import type { UseMutationResult } from "@tanstack/react-query";
import { useRevisions } from "../api/queries";
import { Notice } from "../kit/Notice";
import { moment } from "../units/format";

interface Props {
  axis: string;
  /** The revision that stands. */
  version: number;
  says: string;
  back: Pick<UseMutationResult<unknown, Error, number>, "isPending" | "variables" | "mutate">;
  tallest?: number;
}

export function RevisionTable({ axis, version, says, back, tallest }: Props) {
  const revisions = useRevisions(axis, version);
  const listed = revisions.data?.pages.flat() ?? [];
  return (
    <>
      {revisions.error && <Notice title="The revisions cannot be shown">{revisions.error.message}</Notice>}
      <div style={{ maxHeight: tallest, overflowY: "auto" }} tabIndex={0} role="group" aria-label="Revisions">
        <table>
          <tbody>
            {listed.map((r) => (
              <tr key={r.number} data-revision={r.number}>
                <td className="num">{r.number}</td>
                <td className="small num">{moment(r.at)}</td>
                <td className="small quiet">{r.why}</td>
                <td className="r">
                  {r.number === version ? (
                    <span className="small">as it stands</span>
                  ) : (
                    <Button
                      size="compact-xs"
                      variant="default"
                      loading={back.isPending && back.variables === r.number}
                      aria-label={`${says} revision ${r.number}`}
                      onClick={() => back.mutate(r.number)}
                    >
                      {says}
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {revisions.hasNextPage && (
          <p style={{ padding: 6 }}>
            <Button
              size="compact-xs"
              variant="default"
              loading={revisions.isFetchingNextPage}
              onClick={() => void revisions.fetchNextPage()}
            >
              Earlier revisions
            </Button>
          </p>
        )}
      </div>
    </>
  );
}
