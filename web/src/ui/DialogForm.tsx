import type { ComponentProps, ReactNode } from "react";
import { DialogBox } from "./DialogBox";
import { FormFoot } from "./FormFoot";

type Props = Omit<ComponentProps<typeof FormFoot>, "onCancel"> & {
  title: ReactNode;
  /** What comes of it, below the title. */
  about?: string;
  /** What the form is called to who cannot see it. */
  label: string;
  width?: string;
  /** Called once nothing is missing. */
  onSubmit: () => void;
  onClose: () => void;
  children: ReactNode;
};

/** A form in a box: what is to be said, what is still missing, doing it and leaving it. */
export function DialogForm(props: Props) {
  const { title, about, label, width = "w-[520px]", onSubmit, onClose, children, ...foot } = props;
  return (
    <DialogBox title={title} width={width} onClose={onClose}>
      {about && <p className="mt-1 text-muted">{about}</p>}
      <form
        aria-label={label}
        className="mt-3 space-y-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (!foot.disabled && !foot.missing?.some(Boolean)) onSubmit();
        }}
      >
        {children}
        <FormFoot {...foot} onCancel={onClose} />
      </form>
    </DialogBox>
  );
}
