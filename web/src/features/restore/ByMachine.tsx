import type { Course, KeptRestore } from "./api";
import { isGoing } from "./api";
import { longMoment } from "../../time/words";
import { measured } from "./Measured";
import { Staircase } from "./Staircase";

/** What a program does of a restore, or the command that has one do it. */
export function ByMachine({ data, may }: { data: KeptRestore; may: boolean }) {
  const { plan, course, ended } = data;
  const [way] = plan.ways;
  if (!way || (!course && (ended || !plan.script || !may))) return null;
  return (
    <section aria-label="By machine" className="mt-3 max-w-[1100px]">
      <h2 className="text-section">By machine</h2>
      {course ? (
        <Said course={course} data={data} />
      ) : (
        <p>A host with the stores and the engine can do it:</p>
      )}
      {may && !ended && (!course || course.failed !== null) && <Command data={data} />}
      {course && <Staircase plan={plan} way={way} measured={measured(course)} />}
    </section>
  );
}

function Said({ course, data }: { course: Course; data: KeptRestore }) {
  const { zone } = data.plan;
  if (course.failed !== null) {
    return (
      <>
        <p className="font-semibold text-coral-text">It failed on {course.host}.</p>
        <pre className="overflow-x-auto font-mono text-note whitespace-pre-wrap">{course.failed}</pre>
        <p className="text-muted">What it left lies in {course.into}. The same command tries again.</p>
      </>
    );
  }
  return (
    <>
      <p>
        {course.opened === null ? (
          <>
            {course.host} carries it out, into <code>{course.into}</code>
            {course.told && `; heard of ${longMoment(course.told, zone)}`}.
          </>
        ) : (
          <>
            Open on {course.host} since {longMoment(course.opened, zone)}, in <code>{course.into}</code>
            {isGoing(data)
              ? "; being proved."
              : ". No server runs over it now: start yours, then enter how it ended."}
          </>
        )}
      </p>
      {course.checks.length > 0 && (
        <ul className="list-disc pl-5 text-muted">
          {course.checks.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      )}
    </>
  );
}

function Command({ data }: { data: KeptRestore }) {
  const over = data.over ? ` --over ${data.name}` : "";
  return (
    <pre className="mt-1 overflow-x-auto rounded border border-line bg-panel p-3 font-mono text-note">
      {`./firth restore ${data.id} --config FILE --into ${data.course?.into ?? "DIR"}${over}`}
    </pre>
  );
}
