/** The data file: where it is, how much it holds, and old revisions thinned out where the maker asks for it. */
import { useState } from "react";
import { Button, Modal, NumberInput } from "@mantine/core";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ask, type Thinned } from "../api/client";
import { useChange, useStore } from "../api/queries";
import { Notice } from "../kit/Notice";
import { bytes, counted } from "../units/format";

export function DataFile() {
  const store = useStore();
  const [asking, setAsking] = useState(false);
  if (!store.data || store.data.cause) return null; // StoreNotice says what is the matter
  return (
    <footer className="data-file small quiet">
      <span>
        Everything is kept in <span className="num">{store.data.file}</span>:{" "}
        <span className="num">{bytes(store.data.bytes)}</span> with{" "}
        <span className="num">{counted(store.data.revisions, "revision")}</span>.
      </span>
      <Button size="compact-xs" variant="default" onClick={() => setAsking(true)}>
        Thin out old revisions…
      </Button>
      <Modal opened={asking} onClose={() => setAsking(false)} title="Thin out old revisions" size="lg">
        <Thin close={() => setAsking(false)} />
      </Modal>
    </footer>
  );
}

const DAYS = 30;

function Thin({ close }: { close: () => void }) {
  const [days, setDays] = useState<number | string>(DAYS);
  const sound = typeof days === "number" && Number.isInteger(days) && days >= 0 && days <= 36_500;
  const would = useQuery({
    queryKey: ["store", "thin", days],
    queryFn: () => ask<Thinned>(`/store/thin?days=${days}`),
    enabled: sound,
    staleTime: 0,
    placeholderData: keepPreviousData,
  });
  const thin = useChange(() => ask<Thinned>("/store/thin", { body: { days } }), "store", "revisions");
  if (thin.data) {
    return (
      <>
        <p>
          {counted(thin.data.revisions, "revision")} went. The file as it was before is kept beside it as{" "}
          <span className="num">{thin.data.copy}</span>; delete that yourself once you no longer want it.
        </p>
        <p style={{ marginTop: 12 }}>
          <Button onClick={close}>Close</Button>
        </p>
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
      <NumberInput
        label="Older than"
        suffix=" days"
        value={days}
        onChange={setDays}
        min={0}
        max={36_500}
        allowDecimal={false}
        allowNegative={false}
        w={180}
        my={10}
        error={sound ? null : "A whole number from 0 to 36500"}
      />
      {would.error && <Notice title="That cannot be worked out">{would.error.message}</Notice>}
      {thin.error && <Notice title="Nothing was taken away">{thin.error.message}</Notice>}
      {sound && would.data && (
        <p role="status">
          {would.data.revisions === 0 ? (
            "There is nothing to thin out."
          ) : (
            <>
              <b className="num">{counted(would.data.revisions, "revision")}</b> of{" "}
              <span className="num">{bytes(would.data.bytes)}</span> would go. A copy of the whole file is set
              aside first.
            </>
          )}
        </p>
      )}
      <p style={{ marginTop: 12, display: "flex", gap: 8 }}>
        <Button
          disabled={!sound || would.isFetching || !would.data?.revisions}
          loading={thin.isPending}
          onClick={() => thin.mutate(undefined)}
        >
          Thin them out
        </Button>
        <Button variant="default" onClick={close}>
          Keep them all
        </Button>
      </p>
    </div>
  );
}
