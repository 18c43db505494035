import { DATE_FOR_INSTANCE, dateOf, instantOf, MOMENT_FOR_INSTANCE, timeOf } from "../time/typed";

type Props = {
  label?: string;
  /** As it was typed, whether it can be read or not. */
  value: string;
  onChange: (text: string) => void;
  autoFocus?: boolean;
  className?: string;
  name?: string;
};

function Field(props: Props & { good: boolean; instance: string; width: string; zone?: string }) {
  const { label, value, onChange, good, instance, width, zone, className = "", ...rest } = props;
  const bad = value.trim() !== "" && !good;
  return (
    <label className={`inline-flex flex-wrap items-center gap-x-1.5 ${className}`}>
      {label}
      <input
        type="text"
        placeholder={instance}
        aria-invalid={bad}
        title={bad ? `not one such as ${instance}` : undefined}
        className={`${width} rounded border bg-panel px-1.5 py-0.5 text-ink ${bad ? "border-coral" : "border-line"}`}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        {...rest}
      />
      {zone && <span className="text-note text-muted">{zone}</span>}
    </label>
  );
}

/** A moment, typed as it is shown: on 24 hours, in a zone that is named. */
export function MomentField({ zone, ...props }: Props & { zone: string }) {
  return (
    <Field
      {...props}
      zone={zone}
      good={instantOf(props.value, zone) !== undefined}
      instance={MOMENT_FOR_INSTANCE}
      width="w-[170px]"
    />
  );
}

export function DateField(props: Props) {
  return (
    <Field
      {...props}
      good={dateOf(props.value) !== undefined}
      instance={DATE_FOR_INSTANCE}
      width="w-[118px]"
    />
  );
}

/** A time of the day on 24 hours. */
export function TimeField(props: Props) {
  return <Field {...props} good={timeOf(props.value) !== undefined} instance="22:00" width="w-[68px]" />;
}
