import { useEffect } from "react";
import { chooseTheme, useTheme } from "./theme";

/** Changes between the colours for days and those for nights. */
export function ThemeSwitch() {
  const theme = useTheme();
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  const other = theme === "day" ? "night" : "day";
  return (
    <button
      className="rounded border border-line px-2 text-muted"
      title={`Colours for the ${other}`}
      onClick={() => chooseTheme(other)}
    >
      {other === "night" ? "Night" : "Day"}
    </button>
  );
}
