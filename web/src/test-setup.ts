import "@testing-library/jest-dom/vitest";
import { cleanup, configure } from "@testing-library/react";
import { afterEach, vi } from "vitest";

// What jsdom lacks of a browser.
vi.stubGlobal(
  "ResizeObserver",
  class {
    observe() {}
    unobserve() {}
    disconnect() {}
  },
);

// What is waited for comes at once or never; a busy machine needs longer than the library's second to show which.
configure({ asyncUtilTimeout: 30_000 });

afterEach(cleanup);
