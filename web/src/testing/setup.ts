/** What the browser has and the tests' stand-in lacks. */
import "@testing-library/jest-dom/vitest";
import { cleanup, configure } from "@testing-library/react";
import { notifications } from "@mantine/notifications";
import { afterEach } from "vitest";

// What is to appear is waited for as long as a slow machine needs, and less than a test may take.
configure({ asyncUtilTimeout: 20_000 });

afterEach(() => {
  cleanup();
  notifications.clean();
});

Blob.prototype.text ??= function (this: Blob) {
  return new Promise<string>((done) => {
    const reader = new FileReader();
    reader.onload = () => done(String(reader.result));
    reader.readAsText(this);
  });
};

window.matchMedia ??= (query: string) =>
  ({
    matches: false,
    media: query,
    onchange: null,
    addEventListener: () => undefined,
    removeEventListener: () => undefined,
    addListener: () => undefined,
    removeListener: () => undefined,
    dispatchEvent: () => false,
  }) as MediaQueryList;

class NoObserver {
  observe() {}
  unobserve() {}
  disconnect() {}
}
window.ResizeObserver ??= NoObserver as unknown as typeof ResizeObserver;
Element.prototype.scrollIntoView ??= () => undefined;
