import { useOwn } from "../drills/api";
import { duration, promise, size } from "../../time/words";

/** How old the newest copy of Firth's own facts is, as of any database. */
export function OwnAge() {
  const { data } = useOwn();
  if (!data) return null;
  const late = data.age === null || data.age > 2 * data.promised;
  return (
    <>
      <h2 className="mt-5 text-lead">Firth itself</h2>
      <p data-testid="own-age" className={late ? "text-coral-text" : ""} title={data.directory}>
        {data.age === null
          ? "No copy of its own facts yet"
          : `Its own facts were copied ${duration(data.age)} ago (${size(data.bytes)}, ${data.copies} kept)`}
        ; promised every {promise(data.promised)}.{data.trouble && ` ${data.trouble}.`}
      </p>
    </>
  );
}
