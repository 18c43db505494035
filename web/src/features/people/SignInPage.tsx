import { useForm, useWatch } from "react-hook-form";
import { enter, enterFirst, useComing, type Session } from "../../api/session";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { TextOf } from "../../ui/fields";

/** What stands before everything else where nobody is signed in. */
export function SignInPage({ session }: { session: Session }) {
  const coming = useComing();
  const form = useForm({ defaultValues: { code: "", id: "", name: "", password: "" } });
  const said = useWatch({ control: form.control });
  const { run, pending, problem } = useCommand();
  const first = session.awaitsFirst;
  const missing = !said.id || !said.password || (first && (!said.code || !said.name));
  const send = form.handleSubmit(({ id, password, code, name }) => {
    if (missing) return;
    void run(() => coming(first ? enterFirst({ code, id, name, password }) : enter({ id, password })));
  });
  return (
    <main className="mx-auto w-[420px] max-w-full px-5 py-16">
      <h1 className="font-serif text-brand leading-none font-semibold">firth</h1>
      <p className="mt-2 text-muted">
        {first
          ? "Nobody may sign in yet. The server printed a one-time code when it began: whoever has it becomes the first administrator."
          : "What can be restored, and what may be purged."}
      </p>
      <form aria-label="Sign in" className="mt-5 space-y-3" noValidate onSubmit={(e) => void send(e)}>
        {first && <TextOf form={form} name="code" label="One-time code" autoFocus />}
        <TextOf
          form={form}
          name="id"
          label={first ? "Sign-in name (lower case)" : "Sign-in name"}
          autoFocus={!first}
          autoComplete="username"
        />
        {first && <TextOf form={form} name="name" label="Your name" autoComplete="name" />}
        <TextOf
          form={form}
          name="password"
          label={first ? "Password, at least 10 characters" : "Password"}
          type="password"
          autoComplete={first ? "new-password" : "current-password"}
        />
        {problem && <ProblemNote error={problem} />}
        <div className="flex items-center gap-3">
          <button className="ink-button" disabled={missing || pending}>
            {first ? "Begin" : "Sign in"}
          </button>
          {session.provider && (
            <a className="text-button" href="/api/session/provider">
              Sign in another way
            </a>
          )}
        </div>
      </form>
    </main>
  );
}
