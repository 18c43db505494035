import type { ReactNode } from "react";
import type { FieldValues } from "react-hook-form";
import { DialogBox } from "./DialogBox";
import { Form, type FormProps } from "./Form";

type Props<T extends FieldValues> = Omit<FormProps<T>, "onCancel" | "className"> & {
  title: ReactNode;
  /** What comes of it, below the title. */
  about?: string;
  width?: string;
  onClose: () => void;
};

/** A form in a box. */
export function DialogForm<T extends FieldValues>(props: Props<T>) {
  const { title, about, width = "w-[520px]", onClose, ...form } = props;
  return (
    <DialogBox title={title} width={width} onClose={onClose}>
      {about && <p className="mt-1 text-muted">{about}</p>}
      <Form {...form} onCancel={onClose} />
    </DialogBox>
  );
}
