/** Reads and sets a place in a design by its path, "chain.0.driver.supply_v", without changing the original. */

type Tree = { [key: string]: unknown } | unknown[];

const step = (key: string) => (/^\d+$/.test(key) ? Number(key) : key);

export function getAt(tree: unknown, path: string): unknown {
  let here: unknown = tree;
  for (const key of path.split(".")) {
    if (here === null || typeof here !== "object") return undefined;
    here = (here as Record<string | number, unknown>)[step(key)];
  }
  return here;
}

export function setAt<T>(tree: T, path: string, value: unknown): T {
  const [first = "", ...rest] = path.split(".");
  const source = tree as unknown as Tree;
  const copy: Record<string | number, unknown> = (
    Array.isArray(source) ? [...source] : { ...source }
  ) as Record<string | number, unknown>;
  copy[step(first)] = rest.length === 0 ? value : setAt(copy[step(first)], rest.join("."), value);
  return copy as unknown as T;
}
