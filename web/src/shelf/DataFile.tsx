/** The data file: where it is, how much it holds, and old revisions thinned out where the maker asks for it. */
import { useState } from "react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { act, ask, type Thinned } from "../api/client";
import { useForm, useStore } from "../api/queries";
import { Act } from "../kit/Act";
import { Dialog } from "../kit/Dialog";
import { Fetched } from "../kit/Fetched";
import { Words } from "../kit/inputs";
import { Failed } from "../kit/Notice";
import { Line } from "../kit/sheets";
import { bytes, counted } from "../units/format";
import css from "./shelf.module.css";

export function DataFile() {
  const store = useStore();
  const [asking, setAsking] = useState(false);
  if (!store.data || store.data.cause) return null; // StoreNotice says what is the matter
  return (
    <footer className={css.file}>
      <span>
        Everything is kept in <span className="num">{store.data.file}</span>:{" "}
        <span className="num">{bytes(store.data.bytes)}</span> with{" "}
        <span className="num">{counted(store.data.revisions, "revision")}</span>.
      </span>
      <Act onClick={() => setAsking(true)}>Thin out old revisions…</Act>
      <Dialog opened={asking} close={() => setAsking(false)} title="Thin out old revisions" wide="lg">
        <Thin close={() => setAsking(false)} />
      </Dialog>
    </footer>
  );
}

const DAYS = 30;

function Thin({ close }: { close: () => void }) {
  const [days, setDays] = useState(String(DAYS));
  const sound = /^\d{1,5}$/.test(days.trim()) && Number(days) <= 36_500;
  const would = useQuery({
    queryKey: ["store", "thin", days],
    queryFn: () => ask<Thinned>(`/store/thin?days=${days}`),
    enabled: sound,
    staleTime: 0,
    placeholderData: keepPreviousData,
  });
  const thin = useForm(
    () => act<Thinned>("/store/thin", { body: { days: Number(days) } }),
    "store",
    "revisions",
  );
  if (thin.data) {
    return (
      <>
        <p>
          {counted(thin.data.revisions, "revision")} went.{" "}
          {thin.data.copy ? (
            <>
              The file as it was before is kept beside it as <span className="num">{thin.data.copy}</span>;
              delete that yourself once you no longer want it.
            </>
          ) : (
            "The disk had no room for a copy of the file as it was: none was kept."
          )}
        </p>
        <Line foot>
          <Act big main onClick={close}>
            Close
          </Act>
        </Line>
      </>
    );
  }
  return (
    <div data-thin>
      <p>
        Every save keeps the design as it was. Of revisions older than the days below, only the last of each
        day stays; so do the first of each axis, those with a note, and those that a log entry belongs to.
        Designs as they stand are not touched.
      </p>
      <div className={css.days}>
        <Words
          label="Older than"
          unit="days"
          figures
          value={days}
          onValue={setDays}
          error={sound ? undefined : "A whole number from 0 to 36500"}
        />
      </div>
      <Failed of={thin.error} title="Nothing was taken away" />
      {sound && (
        <Fetched of={would} what="what would go">
          {(found) => (
            <p role="status">
              {found.revisions === 0 ? (
                "There is nothing to thin out."
              ) : (
                <>
                  <b className="num">{counted(found.revisions, "revision")}</b> of{" "}
                  <span className="num">{bytes(found.bytes)}</span> would go. A copy of the whole file is set
                  aside first.
                </>
              )}
            </p>
          )}
        </Fetched>
      )}
      <Line foot>
        <Act
          big
          main
          disabled={!sound || would.isFetching || !would.data?.revisions}
          busy={thin.isPending}
          onClick={() => thin.mutate(undefined)}
        >
          Thin them out
        </Act>
        <Act big onClick={close}>
          Keep them all
        </Act>
      </Line>
    </div>
  );
}
