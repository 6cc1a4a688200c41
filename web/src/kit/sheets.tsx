/** The page's own furniture: sheets with a title, columns, fields side by side, large figures, tables, folds. */
import { useState, type ComponentProps, type ReactNode } from "react";
import css from "./sheets.module.css";

interface SheetProps extends Omit<ComponentProps<"section">, "title" | "className"> {
  title?: ReactNode;
  /** A few words after the title. */
  note?: ReactNode;
  /** Actions at the right end of the title's line. */
  aside?: ReactNode;
}

export function Sheet({ title, note, aside, children, ...rest }: SheetProps) {
  return (
    <section className={css.sheet} data-sheet {...rest}>
      {title !== undefined && <Title {...{ title, note, aside }} />}
      {children}
    </section>
  );
}

function Title({ title, note, aside }: { title: ReactNode; note?: ReactNode; aside?: ReactNode }) {
  return (
    <div className={css.head}>
      <h2>
        {title} {note && <span className={css.note}>{note}</span>}
      </h2>
      {aside && <span className={css.aside}>{aside}</span>}
    </div>
  );
}

/** A part of a sheet, ruled off. */
export function Part({
  title,
  aside,
  children,
  ...rest
}: { title?: ReactNode; aside?: ReactNode } & Omit<ComponentProps<"div">, "title" | "className">) {
  return (
    <div className={css.part} {...rest}>
      {title !== undefined && (
        <div className={css.head}>
          <h3>{title}</h3>
          {aside && <span className={css.aside}>{aside}</span>}
        </div>
      )}
      {children}
    </div>
  );
}

type Shape = "halves" | "first" | "second" | "drawn";

/** Columns: halves, the first or the second the wider, or a drawing and two. They stand beneath one another where it is narrow. */
export const Cols = ({
  as = "halves",
  children,
  tight,
}: {
  as?: Shape;
  children: ReactNode;
  tight?: boolean;
}) => (
  <div className={css.cols} data-as={as} data-tight={tight}>
    {children}
  </div>
);

/** Fields side by side, or one `as` a stack; as a row the first takes the room that is left and the last is an action. */
export const Fields = ({
  children,
  as = "fields",
}: {
  children: ReactNode;
  as?: "fields" | "row" | "stack";
}) => <div className={css[as]}>{children}</div>;

/** Things in a line, with air between them. */
export const Line = ({
  children,
  spread,
  foot,
  ...rest
}: { spread?: boolean; foot?: boolean } & Omit<ComponentProps<"div">, "className">) => (
  <div className={css.line} data-spread={spread} data-foot={foot} {...rest}>
    {children}
  </div>
);

export const Figs = ({ children }: { children: ReactNode }) => <div className={css.figs}>{children}</div>;

/** A large figure that opens to nothing. */
export function Fig({ name, value, unit, ...rest }: { name?: string; value: ReactNode; unit: string }) {
  return (
    <div>
      {name && <div className={css.figName}>{name}</div>}
      <div className={css.figValue} {...rest}>
        {value} <small>{unit}</small>
      </div>
    </div>
  );
}

/** The insides of a large figure that does open. */
export const FigFace = ({ name, value, unit }: { name: string; value: string; unit: string }) => (
  <>
    <span className={css.figName}>{name}</span>{" "}
    <span className={css.figValue}>
      {value} {unit && <small>{unit}</small>}
    </span>
  </>
);

export type Column =
  | string
  | {
      name: ReactNode;
      right?: boolean;
      width?: number | string;
      /** By which others find it. */
      marks?: Readonly<Record<`data-${string}`, string>>;
    };

/** A table: its columns by name, its rows as they come. `tall` scrolls within so many pixels. */
export function Table({
  columns,
  caption,
  tall,
  children,
  dense,
  label,
  ...rest
}: {
  columns?: readonly Column[];
  caption?: ReactNode;
  tall?: number;
  dense?: boolean;
  label?: string;
} & Omit<ComponentProps<"table">, "className">) {
  const table = (
    <table className={css.table} data-dense={dense} {...rest}>
      {caption && <caption>{caption}</caption>}
      {columns && (
        <thead>
          <tr>
            {columns.map((c, i) => {
              const { name, right, width, marks } =
                typeof c === "string" ? ({ name: c } as Exclude<Column, string>) : c;
              return (
                <th key={i} data-right={right} style={width ? { width } : undefined} {...marks}>
                  {name}
                </th>
              );
            })}
          </tr>
        </thead>
      )}
      <tbody>{children}</tbody>
    </table>
  );
  return tall ? (
    <div className={css.scroll} style={{ maxHeight: tall }} tabIndex={0} role="group" aria-label={label}>
      {table}
    </div>
  ) : (
    <div className={css.wide}>{table}</div>
  );
}

/** A cell of a number: to the right, in figures of one width. */
export const Num = ({
  children,
  ...rest
}: Omit<ComponentProps<"td">, "className"> & { signal?: boolean }) => {
  const { signal, ...own } = rest;
  return (
    <td data-right className={signal ? "num signal" : "num"} {...own}>
      {children}
    </td>
  );
};

/** A cell of actions, at the right end of a row. */
export const Acts = ({ children }: { children: ReactNode }) => (
  <td data-right>
    <span className={css.acts}>{children}</span>
  </td>
);

interface FoldProps {
  title: ReactNode;
  /** What is in force inside, in a line, while it is closed. */
  says?: ReactNode;
  open?: boolean;
  /** A function where it is not even made before it is opened. */
  children: ReactNode | (() => ReactNode);
  /** A sheet of its own; otherwise it stands within one. */
  sheet?: boolean;
}

/** What few need, folded under its name. */
export function Fold({ title, says, open = false, children, sheet }: FoldProps) {
  const [opened, setOpened] = useState(open);
  return (
    <details
      className={sheet ? `${css.sheet} ${css.fold}` : css.fold}
      data-sheet={sheet}
      open={opened}
      onToggle={(e) => setOpened(e.currentTarget.open)}
    >
      <summary>
        {title} {says && !opened && <span className={css.says}>{says}</span>}
      </summary>
      {typeof children === "function" ? opened && children() : children}
    </details>
  );
}

export const Note = ({ children, ...rest }: Omit<ComponentProps<"p">, "className">) => (
  <p className={css.remark} {...rest}>
    {children}
  </p>
);

/** The usual caution, at the place where it counts. */
export const Caution = ({ children }: { children: ReactNode }) => <p className={css.caution}>{children}</p>;
