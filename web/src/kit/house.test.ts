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

  it("do nothing without a key of its own, and to no row by its place", () => {
    const described = read("api/schema.gen.ts");
    const keyed = new Set(
      [...described.matchAll(/^ {4}(\w+): \{\n {8}parameters: \{[\s\S]*?^ {8}\};/gm)]
        .filter(([said]) => said.includes('"act-key"?'))
        .map(([, name]) => name),
    );
    expect(keyed.size).toBeGreaterThan(20);
    const paths = [...described.matchAll(/^ {4}"\/api(\/[^"]*)": \{([\s\S]*?)^ {4}\};/gm)]
      .filter(([, , ways]) =>
        [...ways!.matchAll(/post: operations\["(\w+)"\]/g)].some(([, name]) => keyed.has(name!)),
      )
      .map(([, path]) => path!.replace(/\{\w+\}/g, "*"));
    expect(paths).toContain("/axes/*/log");
    const code = files.filter((f) => /\.tsx?$/.test(f) && !f.includes(".test.") && !f.startsWith("testing/"));
    const without = code.flatMap((f) =>
      [...read(f).matchAll(/\bask(?:<[^(]*>)?\(\s*["`]([^"`?]+)["`],\s*\{\s*(?:body|text)/g)]
        .map(([, path]) => path!.replace(/\$\{[^}]*\}/g, "*"))
        .filter((path) => paths.includes(path))
        .map((path) => `${f}: ${path}`),
    );
    expect(without, "asked, where it is done: use act").toEqual([]);
    const byPlace = code
      .filter((f) => /^(machine|drawer|shelf|steps\/log)\//.test(f))
      .filter((f) => /\.(filter|map)\(\(\w+, (\w+)\) =>\s*\(?\2 (!==|===) /.test(read(f)));
    expect(byPlace, "a row that is changed or removed is named by its id").toEqual([]);
  });

  it("keep what is typed: no form holds words in a state of its own", () => {
    const held = parts.flatMap((f) =>
      [...read(f).matchAll(/<Words(?:(?!\/>)[\s\S])*?onValue=\{(set\w+)\}/g)].map(
        ([, set]) => `${f}: ${set}`,
      ),
    );
    // What is only looked for is sent at every letter, and what stands in a file that was opened is in the file.
    const looking = /setSearch|setWanted|setDays|DrawerFile|setRows/;
    expect(held.filter((h) => !looking.test(h))).toEqual([]);
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
