import { useLayoutEffect } from "react";

/** Whether keys typed now belong to a field and not to the page. */
export function typing(): boolean {
  const e = document.activeElement;
  return (
    e instanceof HTMLInputElement ||
    e instanceof HTMLTextAreaElement ||
    e instanceof HTMLSelectElement ||
    document.querySelector('[role="dialog"]') !== null
  );
}

/** Single keys that do something while the component is shown and no field has focus. */
export function useKeys(keys: Record<string, (e: KeyboardEvent) => void>) {
  // Before the page is painted: a key pressed on what one sees means what one sees.
  useLayoutEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const action = keys[e.key];
      if (!action || e.ctrlKey || e.metaKey || e.altKey || typing()) return;
      e.preventDefault();
      action(e);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
}
