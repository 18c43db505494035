import { useForm, useWatch } from "react-hook-form";
import { changePassword } from "../../api/session";
import { useCommand } from "../../ui/useCommand";
import { TextOf } from "../../ui/fields";
import { DialogForm } from "../../ui/DialogForm";

/** Puts a password in the place of another. */
export function PasswordForm({ onClose }: { onClose: () => void }) {
  const form = useForm({ defaultValues: { old: "", password: "" } });
  const said = useWatch({ control: form.control });
  const { run, pending, problem } = useCommand();
  return (
    <DialogForm
      form={form}
      title="Change your password"
      label="Change your password"
      width="w-[420px]"
      text="Change it"
      disabled={!said.old || !said.password || pending}
      problem={problem}
      onSubmit={(v) => run(() => changePassword(v), onClose)}
      onClose={onClose}
    >
      <TextOf form={form} name="old" label="Current password" type="password" autoFocus />
      <TextOf form={form} name="password" label="New password, at least 10 characters" type="password" />
    </DialogForm>
  );
}
