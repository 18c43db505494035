type Props = {
  /** Said before it; shown only where there is room for it. */
  label: string;
  labelled?: boolean;
  value: string;
  options: [value: string, text: string][];
  onChange: (value: string) => void;
};

/** One of a few. */
export function Choice({ label, labelled = true, value, options, onChange }: Props) {
  return (
    <label className="flex items-center gap-1.5 text-muted">
      {labelled && label}
      <select
        aria-label={labelled ? undefined : label}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        className="rounded border border-line bg-panel px-1.5 py-0.5 text-ink"
      >
        {options.map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}
