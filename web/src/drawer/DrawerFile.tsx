/** The drawer as a file: out as CSV, and in after a look at what would change. */
import { useRef, useState } from "react";
import { Modal } from "@mantine/core";
import { ask, type DrawerPreview, type Intake } from "../api/client";
import { useChange } from "../api/queries";

export function DrawerFile({ taken }: { taken: (step: Intake) => void }) {
  const pick = useRef<HTMLInputElement>(null);
  const [text, setText] = useState("");
  const [seen, setSeen] = useState<DrawerPreview | null>(null);
  const [error, setError] = useState("");
  const take = useChange(
    (body: { text: string }) => ask<Intake | null>("/drawer/import", { body }),
    "drawer",
    "belt",
  );
  const look = async (found: string) => {
    setText(found);
    try {
      setSeen(await ask<DrawerPreview>("/drawer/preview", { body: { text: found } }));
      setError("");
    } catch (e) {
      setSeen(null);
      setError(e instanceof Error ? e.message : "It cannot be read.");
    }
  };
  const close = () => (setSeen(null), setText(""));
  return (
    <span style={{ display: "flex", gap: 8, alignItems: "center" }}>
      <a className="act-link" href="/api/drawer/file" download="drawer.csv">
        Take it out as CSV
      </a>
      <button className="act tight" onClick={() => pick.current?.click()}>
        Take a file in…
      </button>
      <input
        ref={pick}
        type="file"
        accept=".csv,text/csv"
        hidden
        aria-label="Drawer file"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) void file.text().then(look);
        }}
      />
      {error && (
        <span className="signal small" role="alert">
          {error}
        </span>
      )}
      <Modal opened={seen !== null} onClose={close} title="What this file would change" size="xl">
        {seen && (
          <div data-preview>
            <p>
              <b className="num">{seen.new}</b> new, <b className="num">{seen.changed}</b> changed,{" "}
              <b className="num">{seen.same}</b> the same
              {seen.troubles.length > 0 && (
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
            {seen.troubles.length > 0 && (
              <table className="rows">
                <thead>
                  <tr>
                    <th className="r" style={{ width: 60 }}>
                      Row
                    </th>
                    <th>Column</th>
                    <th>What is wrong</th>
                    <th>What to do</th>
                  </tr>
                </thead>
                <tbody>
                  {seen.troubles.map((t, i) => (
                    <tr key={i} data-trouble-row={t.row}>
                      <td className="r num">{t.row}</td>
                      <td>{t.field}</td>
                      <td>{t.message}</td>
                      <td>{t.remedy}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
            {seen.troubles.length > 0 && (
              <div className="field text" style={{ marginTop: 10 }}>
                <label className="name" htmlFor="drawer-text">
                  The file; mend it here
                </label>
                <div className="box">
                  <textarea
                    id="drawer-text"
                    rows={8}
                    style={{ fontFamily: "var(--figures)", fontSize: 12.5 }}
                    value={text}
                    onChange={(e) => setText(e.target.value)}
                  />
                </div>
              </div>
            )}
            <div style={{ maxHeight: 260, overflowY: "auto", marginTop: 8 }}>
              <table className="rows">
                <tbody>
                  {seen.changes.map((c) => (
                    <tr key={c.row}>
                      <td className="r num" style={{ width: 60 }}>
                        {c.row}
                      </td>
                      <td>{c.name}</td>
                      <td>{c.what}</td>
                      <td className="small">{c.says}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            <p style={{ marginTop: 12, display: "flex", gap: 8 }}>
              {seen.troubles.length > 0 && (
                <button className="act" onClick={() => void look(text)}>
                  Look again
                </button>
              )}
              <button
                className="act main"
                disabled={seen.troubles.length > 0 || seen.new + seen.changed === 0 || take.isPending}
                onClick={() => take.mutate({ text }, { onSuccess: (step) => (close(), step && taken(step)) })}
              >
                Take it in
              </button>
              <button className="act" onClick={close}>
                Leave the drawer as it is
              </button>
            </p>
            {take.error && (
              <p className="signal" role="alert">
                {take.error.message}
              </p>
            )}
          </div>
        )}
      </Modal>
    </span>
  );
}
