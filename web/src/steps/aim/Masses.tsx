/** What moves, and the heads that it carries one at a time. */
import { usePick } from "../../design/context";
import { Figure } from "../../frame/Figure";
import { ListOf } from "../../fields/ListOf";
import { NumberField } from "../../fields/NumberField";
import { ChoiceField, TextField } from "../../fields/OtherFields";
import { Figs, Fold, Sheet } from "../../kit/sheets";

export function Tally() {
  return (
    <Sheet title="What moves" note="weigh it if you can; belts, idlers and arms are added by themselves">
      <ListOf
        list="moving"
        add="Add a line"
        least={1}
        fresh={() => ({ label: "", mass_kg: 0.1, quantity: 1, source: { kind: "estimate", note: "" } })}
        foot={
          <Figs>
            <Figure of="mass.tally" label="By tally" />
            <Figure of="loop.carried" />
            <Figure of="mass.total" label="Moves in all" />
          </Figs>
        }
      >
        {(at, i) => (
          <>
            <TextField path={`${at}.label`} label={i === 0 ? "What moves" : `What moves, line ${i + 1}`} />
            <NumberField path={`${at}.mass_kg`} />
            <NumberField path={`${at}.quantity`} />
            <ChoiceField path={`${at}.source.kind`} label="Known how" />
          </>
        )}
      </ListOf>
    </Sheet>
  );
}

export function Heads() {
  const count = usePick((v) => v.design.heads?.length ?? 0);
  return (
    <Fold
      sheet
      open={count > 0}
      title="Heads, one at a time"
      says={
        count > 0
          ? `${count} load cases; the worst governs, each is shown in Drive`
          : "none; load cases of which the worst governs"
      }
    >
      <ListOf list="heads" add="Add a head" fresh={(n) => ({ label: `Head ${n + 1}`, mass_kg: 0.5 })}>
        {(at) => (
          <>
            <TextField path={`${at}.label`} />
            <NumberField path={`${at}.mass_kg`} />
            <NumberField path={`${at}.push_n`} />
          </>
        )}
      </ListOf>
    </Fold>
  );
}
