/** Rules of the browser's house: controls come from the kit, styles from modules, and nothing lies about unused. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";

const files = readdirSync("src", { recursive: true, encoding: "utf-8" }).map((f) => f.replaceAll("\\", "/"));
const read = (file: string) => readFileSync(join("src", file), "utf-8");
const parts = files.filter((f) => f.endsWith(".tsx") && !f.includes(".test.") && !f.startsWith("testing/"));

describe("the browser's sources", () => {
  it("are found at all", () => expect(parts.length).toBeGreaterThan(60));

  it("hold no raw control outside the kit", () => {
    const raw = /<(button|input|select|textarea|progress|details|table|dialog)[\s>]/;
    const outside = parts.filter((f) => !f.startsWith("kit/") && raw.test(read(f)));
    expect(outside).toEqual([]);
  });

  it("hold at most a few inline styles, for sizes that follow data", () => {
    const inline = parts.flatMap((f) => [...read(f).matchAll(/\bstyle=/g)].map(() => f));
    expect(inline.length).toBeLessThanOrEqual(6);
  });

  it("dress by modules: the words of the one global sheet are the only plain classes", () => {
    const words = new Set(["num", "quiet", "small", "signal", "nowrap", "hidden", "no-print"]);
    const plain = parts.flatMap((f) =>
      [...read(f).matchAll(/className="([^"]*)"/g)].flatMap((m) =>
        m[1]!
          .split(" ")
          .filter((word) => !words.has(word))
          .map((word) => `${f}: ${word}`),
      ),
    );
    expect(plain).toEqual([]);
    const sheets = files.filter((f) => f.endsWith(".css") && !f.endsWith(".module.css"));
    expect(sheets.sort()).toEqual(["look/base.css", "look/mantine.css"]);
  });

  it("use every class that a module holds, and no other", () => {
    const used = new Map<string, Set<string>>();
    for (const file of files.filter((f) => /\.tsx?$/.test(f))) {
      const code = read(file);
      for (const [, name, from] of code.matchAll(/import (\w+) from "([^"]+\.module\.css)"/g)) {
        const sheet = join(file, "..", from!);
        const known = used.get(sheet) ?? used.set(sheet, new Set()).get(sheet)!;
        for (const [, word] of code.matchAll(new RegExp(`\\b${name}\\.(\\w+)`, "g"))) known.add(word!);
        if (code.includes(`${name}[as]`)) ["fields", "row", "stack"].forEach((word) => known.add(word));
      }
    }
    const sheets = files.filter((f) => f.endsWith(".module.css"));
    expect(sheets.length).toBeGreaterThan(15);
    for (const sheet of sheets) {
      const held = read(sheet).replace(/:global\([^)]*\)|"[^"]*"/g, "");
      const classes = [...held.matchAll(/\.([a-zA-Z]\w*)(?=[^{}]*\{)/g)].map((m) => m[1]!);
      expect([...new Set(classes)].sort(), sheet).toEqual([...(used.get(sheet) ?? [])].sort());
    }
  });

  it("ask nothing by a window of the browser's own", () => {
    const asked = parts.filter((f) => /window\.(confirm|alert|prompt)\(/.test(read(f)));
    expect(asked).toEqual([]);
  });

  it("use every package that is fetched for them", () => {
    const listed = JSON.parse(readFileSync("package.json", "utf-8")) as Record<
      string,
      Record<string, string>
    >;
    const code = files
      .filter((f) => /\.(tsx?|css)$/.test(f))
      .map(read)
      .join("\n");
    const unused = Object.keys(listed.dependencies!).filter((name) => !code.includes(`"${name}`));
    expect(unused).toEqual([]);
    const tools = [
      readFileSync("package.json", "utf-8").replace(/"(dev)?[dD]ependencies": \{[^}]*\}/g, ""),
      readFileSync("vite.config.ts", "utf-8"),
      readFileSync("eslint.config.js", "utf-8"),
      code,
    ].join("\n");
    const known = ["axe-core", "@types/", "typescript", "jsdom", "prettier", "eslint", "vite", "openapi"];
    const idle = Object.keys(listed.devDependencies!).filter(
      (name) => !tools.includes(name) && !known.some((k) => name.startsWith(k)),
    );
    expect(idle).toEqual([]);
  });
});
