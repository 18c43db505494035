import type { ReactNode } from "react";
import {
  useWatch,
  type DeepPartialSkipArrayKey,
  type FieldValues,
  type UseFormReturn,
} from "react-hook-form";
import { FormFoot } from "./FormFoot";

export type FormProps<T extends FieldValues> = {
  /** Its values, from `useForm`. */
  form: UseFormReturn<T>;
  /** What it is called to who cannot see it. */
  label: string;
  /** What it does. */
  text: string;
  /** What is still to be said, by what is said so far. */
  missing?: (values: T) => (string | false)[];
  /** Whether it cannot be sent for another reason that shows by itself. */
  disabled?: boolean;
  problem: Error | null;
  /** Called once nothing is missing. */
  onSubmit: (values: T) => unknown;
  onCancel: () => void;
  className?: string;
  children: ReactNode;
};

/** A form: what is to be said, what is still missing, doing it and leaving it. */
export function Form<T extends FieldValues>(props: FormProps<T>) {
  const { form, label, text, missing, disabled = false, problem, onSubmit, onCancel } = props;
  const values = useWatch({ control: form.control }) as DeepPartialSkipArrayKey<T> & T;
  const lacking = missing?.(values) ?? [];
  const send = form.handleSubmit((v) => {
    if (!disabled && !lacking.some(Boolean)) onSubmit(v);
  });
  return (
    <form
      aria-label={label}
      noValidate
      className={props.className ?? "mt-3 space-y-3"}
      onSubmit={(e) => void send(e)}
    >
      {props.children}
      <FormFoot text={text} missing={lacking} disabled={disabled} problem={problem} onCancel={onCancel} />
    </form>
  );
}
