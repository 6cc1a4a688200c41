/** Keys of what was asked to be done and has no answer yet: in this browser, so that they outlive a reload. */
const AT = "crisp-cadence.acts";
const KEPT_MS = 86_400_000;

type Kept = Record<string, { key: string; at: number }>;

/** A text in a few letters; the program itself compares what is done with what was done under a key. */
function short(text: string): string {
  let a = 0xdeadbeef;
  let b = 0x41c6ce57;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 2654435761);
    b = Math.imul(b ^ c, 1597334677);
  }
  return `${(a >>> 0).toString(36)}-${(b >>> 0).toString(36)}-${text.length.toString(36)}`;
}

export const newKey = (letters = 16) =>
  Array.from(crypto.getRandomValues(new Uint8Array(letters)), (n) => (n % 36).toString(36)).join("");

class Unanswered {
  private here: Kept = {};

  private stored(): Kept {
    try {
      const all = JSON.parse(localStorage.getItem(AT) ?? "{}") as Kept;
      return Object.fromEntries(Object.entries(all).filter(([, k]) => Date.now() - k.at < KEPT_MS));
    } catch {
      return {};
    }
  }

  private store(kept: Kept) {
    try {
      localStorage.setItem(AT, JSON.stringify(kept));
    } catch {
      // Where nothing can be kept, the key lasts as long as the page.
    }
  }

  begin(what: string) {
    const name = short(what);
    const known = this.here[name] ?? this.stored()[name];
    const { key } = (this.here[name] = known ?? { key: newKey(), at: Date.now() });
    this.store({ ...this.stored(), [name]: this.here[name] });
    return {
      value: key,
      answered: () => {
        if (this.here[name]?.key !== key) return;
        delete this.here[name];
        const rest = this.stored();
        delete rest[name];
        this.store(rest);
      },
    };
  }
}

export const unanswered = new Unanswered();
