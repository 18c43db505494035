import { useEffect, useState } from "react";

const KEY = "firth:theme";
type Theme = "day" | "night";

/** What was chosen in this browser, or else what the system prefers. */
function initial(): Theme {
  const kept = localStorage.getItem(KEY);
  if (kept === "day" || kept === "night") return kept;
  return window.matchMedia?.("(prefers-color-scheme: dark)").matches ? "night" : "day";
}

/** Changes between the colours for days and those for nights. */
export function ThemeSwitch() {
  const [theme, setTheme] = useState(initial);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const other = theme === "day" ? "night" : "day";
  return (
    <button
      className="rounded border border-line px-2 text-muted"
      title={`Colours for the ${other}`}
      onClick={() => {
        localStorage.setItem(KEY, other);
        setTheme(other);
      }}
    >
      {other === "night" ? "Night" : "Day"}
    </button>
  );
}
