import { useState } from "react";

type Props = {
  label: string;
  placeholder?: string;
  initial: string;
  className: string;
  onChange: (words: string) => void;
};

/**
 * A field for words that are kept in the address. It holds what is typed by itself, since the address follows a moment later;
 * to empty it from outside, give it another key.
 */
export function WordsField({ label, placeholder = "Words", initial, className, onChange }: Props) {
  const [text, setText] = useState(initial);
  return (
    <input
      aria-label={label}
      placeholder={placeholder}
      className={`rounded-lg border border-line bg-panel px-2.5 ${className}`}
      value={text}
      onChange={(e) => {
        setText(e.target.value);
        onChange(e.target.value);
      }}
    />
  );
}
