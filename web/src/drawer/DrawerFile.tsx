/** The drawer as a file: out as CSV, and in after a look at what would change. */
import { useState } from "react";
import { act, ask, BASE, type DrawerPreview, type Intake } from "../api/client";
import { useForm } from "../api/queries";
import { Act, ActLink } from "../kit/Act";
import { Dialog } from "../kit/Dialog";
import { OpenFile, Words } from "../kit/inputs";
import { Failed } from "../kit/Notice";
import { Line, Num, Table } from "../kit/sheets";

export function DrawerFile({ taken }: { taken: (step: Intake) => void }) {
  const [text, setText] = useState("");
  const look = useForm((found: string) => ask<DrawerPreview>("/drawer/preview", { body: { text: found } }));
  const take = useForm((body: { text: string }) => act<Intake | null>("/drawer/import", { body }), "drawer");
  const open = (found: string) => (setText(found), take.reset(), look.mutate(found));
  const close = () => (look.reset(), setText(""));
  const seen = look.data;
  const wrong = (seen?.troubles.length ?? 0) > 0;
  return (
    <>
      <ActLink href={`${BASE}/api/drawer/file`} download="drawer.csv">
        Take it out as CSV
      </ActLink>
      <OpenFile label="Drawer file" accept=".csv,text/csv" onFile={(file) => void file.text().then(open)}>
        Take a file in…
      </OpenFile>
      {look.error && text !== "" && <Failed of={look.error} title="That file cannot be read" />}
      <Dialog opened={seen !== undefined} close={close} title="What this file would change" wide="xl">
        {seen && (
          <div data-preview>
            <p>
              <b className="num">{seen.new}</b> new, <b className="num">{seen.changed}</b> changed,{" "}
              <b className="num">{seen.same}</b> the same
              {wrong && (
                <>
                  ;{" "}
                  <b className="signal">
                    <span className="num">{seen.troubles.length}</span> wrong: nothing is taken in until they
                    are mended
                  </b>
                </>
              )}
              .
            </p>
            {wrong && (
              <>
                <Table
                  columns={[{ name: "Row", right: true, width: 60 }, "Column", "What is wrong", "What to do"]}
                >
                  {seen.troubles.map((t, i) => (
                    <tr key={i} data-trouble-row={t.row}>
                      <Num>{t.row}</Num>
                      <td>{t.field}</td>
                      <td>{t.message}</td>
                      <td>{t.remedy}</td>
                    </tr>
                  ))}
                </Table>
                <Words label="The file; mend it here" rows={8} figures value={text} onValue={setText} />
              </>
            )}
            <Table tall={260} label="Rows of the file that change something">
              {seen.changes.map((c) => (
                <tr key={c.row}>
                  <Num>{c.row}</Num>
                  <td>{c.name}</td>
                  <td>{c.what}</td>
                  <td className="small">{c.says}</td>
                </tr>
              ))}
            </Table>
            <Line foot>
              {wrong && (
                <Act big busy={look.isPending} onClick={() => look.mutate(text)}>
                  Look again
                </Act>
              )}
              <Act
                big
                main
                disabled={wrong || seen.new + seen.changed === 0}
                busy={take.isPending}
                onClick={() => take.mutate({ text }, { onSuccess: (step) => (close(), step && taken(step)) })}
              >
                Take it in
              </Act>
              <Act big onClick={close}>
                Leave the drawer as it is
              </Act>
            </Line>
            <Failed of={take.error} title="Nothing was taken in" />
          </div>
        )}
      </Dialog>
    </>
  );
}
