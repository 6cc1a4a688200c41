/** A data file that takes no saves: what is wrong with it, and the offer to rescue what can be read. */
import { act, type Rescued } from "../api/client";
import { useForm, useStore } from "../api/queries";
import { Failed, Notice } from "../kit/Notice";

export function StoreNotice() {
  const store = useStore();
  const rescue = useForm(() => act<Rescued>("/store/rescue", { method: "POST" }), "store", "shelf", "drawer");
  const adopt = useForm(
    (name: string) => act("/store/adopt", { body: { name } }),
    "store",
    "shelf",
    "drawer",
    "off",
  );
  const done = rescue.data;
  if (done) {
    return (
      <Notice title="Rescued" grave={false}>
        {done.rows.axis} axes with {done.rows.revision} revisions, {done.rows.log_entry} log entries and{" "}
        {done.rows.stock} rows of the drawer stand in a sound file now.
        {done.lost_axes > 0 && ` Of ${done.lost_axes} axes no revision could be read.`}{" "}
        {done.kept && `The old file is kept as ${done.kept}.`}
      </Notice>
    );
  }
  if (store.error && !store.data)
    return (
      <Failed of={store.error} title="The data file cannot be looked at" again={() => void store.refetch()} />
    );
  const [copy] = store.data?.copies ?? [];
  if (copy)
    return (
      <Notice
        title="Nothing is on this shelf, but copies of a data file lie beside it"
        grave={false}
        actions={[
          { says: "Go on with the newest", main: true, busy: adopt.isPending, run: () => adopt.mutate(copy) },
        ]}
      >
        In the folder of {store.data!.file}: <span className="num">{store.data!.copies.join(", ")}</span>. The
        empty file is kept beside it. {adopt.error?.message}
      </Notice>
    );
  if (!store.data?.cause) return null;
  const gone = store.data.cause === "gone";
  return (
    <Notice
      title={gone ? "The data file has gone" : "The data file is damaged"}
      actions={[
        {
          says: gone ? "Write it again" : "Rescue what can be read",
          main: true,
          busy: rescue.isPending,
          run: () => rescue.mutate(undefined),
        },
      ]}
    >
      {store.data.says}{" "}
      {gone
        ? "Nothing can be saved until it is written again."
        : "A new file is made of all that can still be read; the damaged one is kept beside it."}
      {store.data.last_copy && ` The newest copy that was set aside by itself is ${store.data.last_copy}.`}{" "}
      {rescue.error?.message}
    </Notice>
  );
}
