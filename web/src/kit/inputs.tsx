/** Inputs that are not numbers of the design: words, choices, ticks, days, files, a place along a line. */
import { useId, useState, type ReactNode } from "react";
import {
  Checkbox,
  FileButton,
  NativeSelect,
  SegmentedControl,
  Slider,
  Textarea,
  TextInput,
} from "@mantine/core";
import { Act } from "./Act";
import css from "./inputs.module.css";

interface Named {
  label: string;
  /** The label is for screen readers alone: what stands beside it names it. */
  bare?: boolean;
}

interface WordsProps extends Named {
  value: string;
  onValue: (value: string) => void;
  most?: number;
  rows?: number;
  error?: string;
  unit?: string;
  hint?: string;
  placeholder?: string;
  focused?: boolean;
  /** Figures, not words. */
  figures?: boolean;
  path?: string;
  /** Room for a few words, where what stands around it gives it no width. */
  roomy?: boolean;
}

export function Words(props: WordsProps) {
  const { label, bare, value, onValue, most, rows, error, unit, hint, placeholder, focused, figures } = props;
  const shared = {
    [bare ? "aria-label" : "label"]: label,
    value,
    maxLength: most,
    error,
    placeholder,
    title: hint,
    autoComplete: "off",
    "data-autofocus": focused || undefined,
    "data-path": props.path,
    className: props.roomy ? css.wanted : undefined,
    classNames: figures ? figuresInput : undefined,
    onChange: (e: { currentTarget: { value: string } }) => onValue(e.currentTarget.value),
  };
  return rows ? <Textarea {...shared} rows={rows} /> : <TextInput {...shared} {...unitSection(unit)} />;
}

/** Numbers are set in figures of one width. */
export const figuresInput = { input: css.figures ?? "" };

/** The unit at the right of a field, with as much room as it takes. */
export const unitSection = (unit: string | undefined) =>
  unit
    ? { rightSection: <span className={css.unit}>{unit}</span>, rightSectionWidth: unit.length * 7.5 + 12 }
    : {};

export interface Option {
  value: string;
  label: string;
}

interface PickProps extends Named {
  value: string;
  options: readonly (string | Option)[];
  onValue: (value: string) => void;
  error?: string;
  hint?: string;
  path?: string;
  /** Nobody has chosen it. */
  assumed?: boolean;
}

/** One of several, by the browser's own list: it opens with the space bar and goes by arrow keys and letters. */
export function Pick({ label, bare, value, options, onValue, error, hint, path, assumed }: PickProps) {
  return (
    <NativeSelect
      rightSection={<Chevron />}
      rightSectionWidth={24}
      {...{ [bare ? "aria-label" : "label"]: label }}
      data={options as (string | Option)[]}
      value={value}
      error={error}
      title={hint}
      data-path={path}
      data-assumed={assumed || undefined}
      onChange={(e) => onValue(e.currentTarget.value)}
    />
  );
}

const Chevron = () => (
  <svg width="9" height="6" viewBox="0 0 9 6" className={css.chevron} aria-hidden="true">
    <path d="M1 1l3.5 4L8 1" fill="none" stroke="currentColor" strokeWidth="1.4" />
  </svg>
);

interface TickProps extends Named {
  on: boolean;
  onValue: (on: boolean) => void;
  off?: boolean;
  id?: string;
  path?: string;
  hint?: string;
}

export function Tick({ label, bare, on, onValue, id, path, hint, off }: TickProps) {
  return (
    <Checkbox
      id={id}
      label={bare ? undefined : label}
      aria-label={bare ? label : undefined}
      checked={on}
      disabled={off}
      title={hint}
      data-path={path}
      onChange={(e) => onValue(e.currentTarget.checked)}
    />
  );
}

/** One of two or three, all in sight. */
export function Either<T extends string>({
  label,
  value,
  options,
  onValue,
}: {
  label: string;
  value: T;
  options: readonly { value: T; label: string }[];
  onValue: (value: T) => void;
}) {
  return (
    <SegmentedControl
      aria-label={label}
      value={value}
      data={[...options]}
      onChange={(v) => onValue(v as T)}
    />
  );
}

export function Day({
  label,
  value,
  onValue,
}: {
  label: string;
  value: string;
  onValue: (v: string) => void;
}) {
  return (
    <TextInput
      type="date"
      required
      withAsterisk={false}
      label={label}
      value={value}
      onChange={(e) => onValue(e.currentTarget.value)}
    />
  );
}

/** Opens a file from this machine; `label` names it for whoever cannot see the button. */
export function OpenFile({
  label,
  accept,
  onFile,
  children,
  big,
}: {
  label: string;
  accept: string;
  onFile: (file: File) => void;
  children: ReactNode;
  big?: boolean;
}) {
  // A file that is chosen again is read again: the input is made anew after each.
  const [turn, setTurn] = useState(0);
  return (
    <FileButton
      key={turn}
      accept={accept}
      inputProps={{ "aria-label": label }}
      onChange={(file) => {
        if (file) onFile(file);
        setTurn((t) => t + 1);
      }}
    >
      {(props) => (
        <Act big={big} onClick={props.onClick}>
          {children}
        </Act>
      )}
    </FileButton>
  );
}

/** A place along a line, from 0 to 1. */
export function Slide({
  label,
  share,
  onShare,
  says,
}: {
  label: string;
  share: number;
  onShare: (share: number) => void;
  says?: ReactNode;
}) {
  const id = useId();
  return (
    <span className={css.slide}>
      <span id={id}>{label}</span>
      <Slider
        className={css.slider}
        thumbProps={{ "aria-labelledby": id }}
        min={0}
        max={1000}
        value={Math.round(share * 1000)}
        onChange={(v) => onShare(v / 1000)}
      />
      {says}
    </span>
  );
}

/** A number within a table that is not part of a design: what is typed is kept until the cell is left. */
export function Cell({
  label,
  value,
  onValue,
  onLeave,
  error,
  hint = "–",
}: {
  label: string;
  value: string;
  onValue: (value: string) => void;
  onLeave: () => void;
  error: string;
  hint?: string;
}) {
  return (
    <TextInput
      aria-label={label}
      className={css.cell}
      classNames={figuresInput}
      inputMode="decimal"
      autoComplete="off"
      value={value}
      placeholder={hint}
      error={error || undefined}
      onChange={(e) => onValue(e.currentTarget.value)}
      onBlur={onLeave}
    />
  );
}
