/** What the design's own schema says of a field: title, unit, limits, words, choices. */
import type { Design } from "../api/client";
import { getAt } from "./path";
import { capital, lower } from "../units/words";

interface Node {
  title?: string;
  description?: string;
  minimum?: number;
  maximum?: number;
  maxLength?: number;
  maxItems?: number;
  type?: string;
  enum?: string[];
  anyOf?: Node[];
  oneOf?: Node[];
  items?: Node;
  $ref?: string;
  properties?: Record<string, Node>;
  const?: string;
  unit?: string;
  dimension?: string;
  default?: unknown;
  /** The step on which it is decided. */
  step?: string;
  /** Sizes that can be bought. */
  sizes?: number[];
  /** It belongs to the bill. */
  bill?: boolean;
  hidden?: boolean;
  /** By choice what fields beside it are set with it. */
  carries?: Record<string, Record<string, unknown>>;
  /** Kinds of its part under which it counts. */
  only?: string[];
  role?: "motor";
  /** Fields that a maker knows and decides, in the order of need. */
  first?: string[];
}
export interface Schema extends Node {
  $defs: Record<string, Node>;
}

export interface Field {
  title: string;
  why: string;
  unit: string;
  dimension: string;
  low: number | undefined;
  high: number | undefined;
  whole: boolean;
  optional: boolean;
  choices: string[];
  longest: number | undefined;
  /** How many a list may hold. */
  most: number | undefined;
  sizes: number[] | undefined;
  /** It belongs to the bill. */
  bill: boolean;
  /** By choice what fields beside it are set with it. */
  carries: Record<string, Record<string, unknown>> | undefined;
}

const cache = new WeakMap<Schema, Map<string, Field>>();

function resolve(schema: Schema, node: Node | undefined): Node | undefined {
  return node?.$ref ? schema.$defs[node.$ref.replace("#/$defs/", "")] : node;
}

/** Of the kinds that may stand at a place the one that a value is; nothing where this program does not know its kind. */
function kindOf(schema: Schema, node: Node | undefined, value: unknown): Node | undefined {
  const kinds: Node[] | undefined =
    node?.oneOf ?? (node?.anyOf?.some((n) => n.$ref) ? node.anyOf : undefined);
  if (!kinds) return node;
  const kind = (value as { kind?: string } | undefined | null)?.kind;
  const matches = kinds.filter((n) => n.$ref);
  const is = (n: Node) => {
    const own = resolve(schema, n)?.properties?.kind;
    return own?.const === kind || own?.default === kind;
  };
  return matches.find(is) ?? (matches.length === 1 ? matches[0] : undefined);
}

/** Follows a path through the schema; where a place may hold several kinds, the design says which it is. */
function find(schema: Schema, design: Design, path: string, met?: (node: Node) => void): Node | undefined {
  let node: Node | undefined = schema;
  let value: unknown = design;
  for (const key of path.split(".")) {
    node = resolve(schema, node);
    value = (value as Record<string, unknown> | undefined)?.[key];
    node = /^\d+$/.test(key) ? node?.items : node?.properties?.[key];
    if (node) met?.(node);
    node = kindOf(schema, node, value) ?? node?.oneOf?.[0] ?? node;
  }
  return node && { ...resolve(schema, node), ...node };
}

/** The step on which a field is decided: the nearest that its own definition, or that of a part around it, names. */
export function stepAt(schema: Schema, design: Design, path: string, fallback: string): string {
  let step = fallback;
  find(schema, design, path, (node) => (step = node.step ?? step));
  return step;
}

/** The name by which the design's description knows the part at a path. */
export const modelAt = (schema: Schema, design: Design, path: string): string =>
  (find(schema, design, path)?.$ref ?? "").replace("#/$defs/", "");

/** Whether the rows of the list at a path have ids of their own. */
export function rowsHaveIds(schema: Schema, design: Design, path: string): boolean {
  const items = find(schema, design, path)?.items;
  const kinds = items?.oneOf ?? items?.anyOf ?? [items];
  return kinds.some((kind) => resolve(schema, kind)?.properties?.id !== undefined);
}

/** A design with every field that was left out at its default, as the program stores it: what is shown is what is stored. */
export const whole = (schema: Schema, design: Design): Design => filled(schema, schema, design) as Design;

function filled(schema: Schema, node: Node | undefined, value: unknown): unknown {
  const known = resolve(schema, kindOf(schema, node, value));
  if (Array.isArray(value)) {
    const items = value.map((item, place) => {
      const whole = filled(schema, known?.items, item) as { id?: string } | null;
      // Rows from before rows had ids are named by their place, as the core names them.
      return whole && typeof whole === "object" && whole.id === "" ? { ...whole, id: String(place) } : whole;
    });
    return items.some((item, i) => item !== value[i]) ? items : value;
  }
  if (value === null || typeof value !== "object" || !known?.properties) return value;
  const out: Record<string, unknown> = { ...value };
  let changed = false;
  for (const [name, field] of Object.entries(known.properties)) {
    const had = out[name];
    if (had === undefined && field.default === undefined) continue;
    out[name] = filled(schema, field, had === undefined ? structuredClone(field.default) : had);
    changed ||= out[name] !== had;
  }
  return changed ? out : value;
}

/** A field without words of its own is titled after its name, in capitals: "Shaft Form" becomes "Shaft form". */
function sentence(title: string, path: string): string {
  const made = (path.split(".").at(-1) ?? "").split("_").map(capital).join(" ");
  return title === made ? title.charAt(0) + title.slice(1).toLowerCase() : title;
}

export function fieldAt(schema: Schema, design: Design, path: string): Field {
  let known = cache.get(schema);
  if (!known) cache.set(schema, (known = new Map()));
  const key = `${path}|${path.startsWith("chain.") ? (design.chain[Number(path.split(".")[1])] as { kind?: string })?.kind : path.startsWith("end") ? (design.end as { kind?: string }).kind : ""}`;
  const hit = known.get(key);
  if (hit) return hit;
  const node = find(schema, design, path) ?? {};
  const inner = node.anyOf?.find((n) => n.type !== "null") ?? node;
  const field: Field = {
    title: sentence(node.title ?? path, path),
    why: node.description ?? "",
    unit: node.unit ?? "",
    dimension: node.dimension ?? "number",
    low: inner.minimum,
    high: inner.maximum,
    whole: inner.type === "integer",
    optional: !!node.anyOf?.some((n) => n.type === "null"),
    choices: node.enum ?? inner.enum ?? [],
    longest: inner.maxLength,
    most: inner.maxItems,
    sizes: node.sizes,
    bill: node.bill ?? false,
    carries: node.carries,
  };
  known.set(key, field);
  return field;
}

export interface Listed {
  path: string;
  shape: "number" | "choice" | "text" | "tick" | "part";
  title: string;
  /** A maker knows and decides it; the others fold. */
  first: boolean;
}

/** Every field of the part at a path that counts for its kind, those of need first, then in the order of its definition; what it costs comes last. */
export function fieldsOf(schema: Schema, design: Design, path: string): Listed[] {
  const node = find(schema, design, path);
  const out: Listed[] = [];
  const kind = (getAt(design, path) as { kind?: string } | undefined)?.kind ?? "";
  const bill = new Set<string>();
  const first = node?.first;
  const list = (at: string, name: string, shape: Listed["shape"], title: string) =>
    out.push({ path: at, shape, title, first: first ? first.includes(name) : true });
  for (const [name, raw] of Object.entries(node?.properties ?? {})) {
    // A kind that is one of several classes is chosen elsewhere; one of several words is a field like any other.
    if (
      raw.hidden ||
      (raw.only && !raw.only.includes(kind)) ||
      (name === "kind" && !(raw.enum || resolve(schema, raw)?.enum))
    )
      continue;
    const inner = resolve(schema, raw.anyOf?.find((n) => n.type !== "null") ?? raw) ?? raw;
    const merged = { ...inner, ...raw };
    const at = `${path}.${name}`;
    if (raw.bill) bill.add(at);
    const title = merged.title ?? name;
    if (inner.properties) list(at, name, "part", name.replaceAll("_", " "));
    else if (inner.enum) list(at, name, "choice", title);
    else if (inner.type === "boolean") list(at, name, "tick", title);
    else if (inner.type === "string") list(at, name, "text", title);
    else if (inner.type === "number" || inner.type === "integer") list(at, name, "number", title);
  }
  // A part that only has a name and a price decides nothing.
  const own = out.filter((f) => f.shape !== "part");
  if (!first && own.every((f) => bill.has(f.path))) for (const f of own) f.first = false;
  const order = (f: Listed) => (first ? first.indexOf(f.path.slice(path.length + 1)) : 0);
  const last = (f: Listed) => (f.shape === "part" ? 2 : bill.has(f.path) ? 1 : 0);
  return out.sort((a, b) => last(a) - last(b) || (a.first && b.first ? order(a) - order(b) : 0));
}

/** The kinds that may stand at a place that holds one of several (a motor or another stage of the chain, an end). */
export function kindsAt(schema: Schema, path: "chain" | "end", role?: "motor"): string[] {
  const node = path === "chain" ? schema.properties?.chain?.items : schema.properties?.end;
  const kinds = node?.oneOf ?? node?.anyOf ?? [];
  return kinds
    .map((n) => resolve(schema, n))
    .filter((n) => n?.role === role)
    .map((n) => n?.properties?.kind?.const ?? "")
    .filter((k) => k !== "");
}

/** The name of a field with the part it belongs to, where the part has one of its own: "Pulley: bore". */
export function titleAt(schema: Schema, design: Design, path: string): string {
  const title = fieldAt(schema, design, path).title;
  const row = /^(\w+\.\d+)\.\w+$/.exec(path)?.[1];
  const label = row && (getAt(design, row) as { label?: string; kind?: string } | undefined)?.label;
  if (row && label && !row.startsWith("chain.")) return `${label}: ${lower(title)}`;
  const inner = path.split(".").slice(1, -1);
  const part = inner.filter((name) => !/^\d+$/.test(name)).at(-1);
  const stage =
    path.startsWith("chain.") && !part
      ? (getAt(design, path.split(".").slice(0, 2).join(".")) as { kind?: string } | undefined)?.kind
      : undefined;
  const of = part ?? stage;
  return of ? `${capital(of.replaceAll("_", " "))}: ${lower(title)}` : title;
}
