import { useState } from "react";
import { changePassword } from "../../api/session";
import { useCommand } from "../../ui/useCommand";
import { Labelled } from "../../ui/Labelled";
import { DialogForm } from "../../ui/DialogForm";

/** Puts a password in the place of another. */
export function PasswordForm({ onClose }: { onClose: () => void }) {
  const [old, setOld] = useState("");
  const [password, setPassword] = useState("");
  const { run, pending, problem } = useCommand();
  return (
    <DialogForm
      title="Change your password"
      label="Change your password"
      width="w-[420px]"
      text="Change it"
      disabled={!old || !password || pending}
      problem={problem}
      onSubmit={() => void run(() => changePassword({ old, password }), onClose)}
      onClose={onClose}
    >
      <Labelled label="Current password" type="password" value={old} onChange={setOld} autoFocus />
      <Labelled
        label="New password, at least 10 characters"
        type="password"
        value={password}
        onChange={setPassword}
      />
    </DialogForm>
  );
}
