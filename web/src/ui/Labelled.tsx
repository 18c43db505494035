/** A line of text to be typed, under what it is. */
export function Labelled(props: {
  label: string;
  value: string;
  onChange: (text: string) => void;
  type?: string;
  autoFocus?: boolean;
  autoComplete?: string;
  placeholder?: string;
}) {
  const { label, onChange, type = "text", ...rest } = props;
  return (
    <label className="block">
      {label}
      <input
        type={type}
        className="w-full rounded border border-line bg-panel px-2 py-1"
        onChange={(e) => onChange(e.target.value)}
        {...rest}
      />
    </label>
  );
}
