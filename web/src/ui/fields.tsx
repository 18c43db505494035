import type { ComponentProps } from "react";
import { useController, type FieldValues, type Path, type UseFormReturn } from "react-hook-form";
import { Choice } from "./Choice";
import { Labelled } from "./Labelled";
import { MomentField, TimeField } from "./Typed";

type Of<T extends FieldValues> = {
  form: UseFormReturn<T>;
  /** Of which of its values. */
  name: Path<T>;
};

function useField<T extends FieldValues>({ form, name }: Of<T>) {
  const { field } = useController({ control: form.control, name });
  return { value: field.value as string, onChange: (text: string) => field.onChange(text) };
}

type Own<P> = Omit<P, "value" | "onChange" | "name">;

export function TextOf<T extends FieldValues>({
  form,
  name,
  ...rest
}: Of<T> & Own<ComponentProps<typeof Labelled>>) {
  return <Labelled {...useField({ form, name })} {...rest} />;
}

export function MomentOf<T extends FieldValues>({
  form,
  name,
  ...rest
}: Of<T> & Own<ComponentProps<typeof MomentField>>) {
  return <MomentField {...useField({ form, name })} {...rest} />;
}

export function TimeOf<T extends FieldValues>({
  form,
  name,
  ...rest
}: Of<T> & Own<ComponentProps<typeof TimeField>>) {
  return <TimeField {...useField({ form, name })} {...rest} />;
}

/** One of a few, in the line. */
export function ChoiceOf<T extends FieldValues>({
  form,
  name,
  ...rest
}: Of<T> & Own<ComponentProps<typeof Choice>>) {
  return <Choice {...useField({ form, name })} {...rest} />;
}

/** One of a few, below its label and as wide as the other fields. */
export function SelectOf<T extends FieldValues>(
  props: Of<T> & { label: string; options: readonly (readonly [value: string, text: string])[] },
) {
  const { value, onChange } = useField(props);
  return (
    <label className="block">
      {props.label}
      <select
        className="w-full rounded border border-line bg-panel px-2 py-1"
        value={value}
        onChange={(e) => onChange(e.target.value)}
      >
        {props.options.map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}

export function CheckOf<T extends FieldValues>({ form, name, label }: Of<T> & { label: string }) {
  const { field } = useController({ control: form.control, name });
  return (
    <label className="flex items-baseline gap-2">
      <input
        type="checkbox"
        checked={Boolean(field.value)}
        onChange={(e) => field.onChange(e.target.checked)}
      />
      {label}
    </label>
  );
}
