import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useState } from "react";
import { changePassword } from "../../api/session";
import { useCommand } from "../../ui/useCommand";
import { Labelled } from "../../ui/Labelled";
import { FormFoot } from "../../ui/FormFoot";

/** Puts a password in the place of another. */
export function PasswordForm({ onClose }: { onClose: () => void }) {
  const [old, setOld] = useState("");
  const [password, setPassword] = useState("");
  const { run, pending, problem } = useCommand();
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-ink/20">
        <DialogPanel className="w-[420px] max-w-full rounded-xl border border-ink bg-panel p-6 shadow-xl">
          <DialogTitle className="text-[20px] leading-tight">Change your password</DialogTitle>
          <form
            className="mt-3 space-y-3"
            onSubmit={(e) => {
              e.preventDefault();
              void run(() => changePassword({ old, password }), onClose);
            }}
          >
            <Labelled label="Current password" type="password" value={old} onChange={setOld} autoFocus />
            <Labelled
              label="New password, at least 10 characters"
              type="password"
              value={password}
              onChange={setPassword}
            />
            <FormFoot
              text="Change it"
              disabled={!old || !password || pending}
              problem={problem}
              onCancel={onClose}
            />
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
