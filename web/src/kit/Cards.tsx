/** One of many, each a card that shows what it is: arrow keys go from card to card. */
import type { ReactNode } from "react";
import { Radio } from "@mantine/core";
import css from "./cards.module.css";

interface Props<T> {
  label: string;
  name: string;
  value: string;
  onValue: (key: string) => void;
  cards: readonly T[];
  keyOf: (card: T) => string;
  /** The card under the pointer or the focus; "" for none. */
  onPoint?: (key: string) => void;
  face: (card: T) => ReactNode;
}

export function Cards<T>({ label, name, value, onValue, cards, keyOf, onPoint, face }: Props<T>) {
  const inTab = cards.some((c) => keyOf(c) === value) ? value : cards[0] && keyOf(cards[0]);
  return (
    <Radio.Group name={name} value={value} onChange={onValue} aria-label={label}>
      <div className={css.cards}>
        {cards.map((c) => {
          const key = keyOf(c);
          const point = (on: boolean) => () => onPoint?.(on ? key : "");
          return (
            <Radio.Card
              key={key}
              value={key}
              type="button"
              className={css.card}
              tabIndex={key === inTab ? 0 : -1}
              data-card={key}
              onPointerEnter={point(true)}
              onPointerLeave={point(false)}
              onFocus={point(true)}
              onBlur={point(false)}
            >
              {face(c)}
            </Radio.Card>
          );
        })}
      </div>
    </Radio.Group>
  );
}
