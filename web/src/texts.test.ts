// @vitest-environment node
import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join, relative } from "node:path";
import ts from "typescript";
import { describe, expect, it } from "vitest";

const HOUSE = join(import.meta.dirname, "../..");
const LIST = join(HOUSE, "docs/texts.md");

/** Where texts that people read may stand; a module that is missing here must have none. */
const JAVA: [module: string, what: string][] = [
  ["wording", "Sentences about computed things"],
  ["server", "What the server says: refusals, documents, mails"],
  ["exchange", "What is wrong with a line of a file"],
  ["cli", "What the command line says"],
  ["store", "What the store says of its file"],
];
const SILENT = ["core"];

function files(from: string, fits: (path: string) => boolean): string[] {
  return readdirSync(from, { withFileTypes: true, recursive: true })
    .filter((f) => f.isFile())
    .map((f) => join(f.parentPath, f.name))
    .filter(fits)
    .sort();
}

const WORDS = /[a-z]{2,} [a-z]{2,}/;
/** Rules and names for programs, not for people. */
const NOT_FOR_PEOPLE =
  /^(SELECT|INSERT|UPDATE|DELETE|CREATE|WITH|FROM|WHERE|ORDER|AND |PRAGMA|#!|@)|[{}<>=]{2}|--/;

/** The texts of a Java file; parts that are joined are one, and a value between them is a dot. */
function javaTexts(code: string): string[] {
  const bare = code.replaceAll(/\/\*[\s\S]*?\*\/|^\s*\/\/.*$/gm, "");
  const joined = bare.replaceAll(/"\s*\+\s*"/g, "");
  const out: string[] = [];
  for (const statement of joined.split(/[;{}]\s*\n|->\s/)) {
    let text = "";
    let end = -1;
    for (const m of statement.matchAll(/"((?:[^"\\\n]|\\.)*)"/g)) {
      const between = end < 0 ? "" : statement.slice(end, m.index);
      if (end >= 0 && /^\s*\+[^,?:]*\+\s*$/.test(between)) text += `…${m[1] ?? ""}`;
      else {
        if (text) out.push(text);
        text = m[1] ?? "";
      }
      end = m.index + m[0].length;
    }
    if (text) out.push(text);
  }
  return out.map((t) => t.trim()).filter((t) => WORDS.test(t) && !NOT_FOR_PEOPLE.test(t));
}

const CLASSES =
  /(^|\s)(-?[mpwhz][trblxy]?-|text-|flex|grid|gap-|border|bg-|font-|max-|min-|items-|absolute|relative|rounded|leading|overflow|underline|sticky|fixed|space-|whitespace|truncate|inset|stroke|fill|outline|cursor)/;

/** The texts of a page's part: what stands between tags, and words in quotation marks. */
function pageTexts(path: string, code: string): string[] {
  const source = ts.createSourceFile(path, code, ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const out: string[] = [];
  const visit = (node: ts.Node) => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node)) return;
    if (ts.isJsxText(node)) out.push(node.text);
    else if (ts.isStringLiteralLike(node)) out.push(node.text);
    else if (ts.isTemplateExpression(node))
      out.push(node.head.text + node.templateSpans.map((s) => "…" + s.literal.text).join(""));
    ts.forEachChild(node, visit);
  };
  visit(source);
  return out
    .map((t) => t.replaceAll(/\s+/g, " ").trim())
    .filter((t) => WORDS.test(t) && !CLASSES.test(t) && !/^\/api|[{}<>]|^M…|px/.test(t));
}

function section(title: string, texts: Map<string, string[]>): string {
  const parts = [`## ${title}`, ""];
  for (const [where, own] of texts) {
    if (own.length > 0) parts.push(`**${where}**`, "", ...own.map((t) => `- ${t}`), "");
  }
  return parts.join("\n");
}

function list(): string {
  const sections = JAVA.map(([module, what]) => {
    const texts = new Map<string, string[]>();
    for (const f of files(join(HOUSE, module, "src/main/java"), (p) => p.endsWith(".java"))) {
      texts.set((f.split("/").pop() ?? "").replace(".java", ""), [
        ...new Set(javaTexts(readFileSync(f, "utf8"))),
      ]);
    }
    return section(what, texts);
  });
  const page = new Map<string, string[]>();
  const own = (p: string) => /\.tsx?$/.test(p) && !/\.test\.|test-|schema\.d|vite-env/.test(p);
  for (const f of files(join(HOUSE, "web/src"), own)) {
    page.set(relative(join(HOUSE, "web/src"), f).replace(/\.tsx?$/, ""), [
      ...new Set(pageTexts(f, readFileSync(f, "utf8"))),
    ]);
  }
  return [
    "# Every text a person can read",
    "",
    "Made by `npm --prefix web run texts`; a test holds it to the code. A dot stands for a value. Read it aloud now and then.",
    "",
    ...sections,
    section("The page", page),
  ].join("\n");
}

describe("the texts people read", () => {
  it("are all in docs/texts.md", () => {
    const now = list();
    if (process.env["WRITE_TEXTS"]) writeFileSync(LIST, now);
    expect(now === readFileSync(LIST, "utf8"), "npm --prefix web run texts makes docs/texts.md anew").toBe(
      true,
    );
  });

  it("do not stand where nothing is said", () => {
    const found = SILENT.flatMap((module) =>
      files(join(HOUSE, module, "src/main/java"), (p) => p.endsWith(".java")).flatMap((f) =>
        javaTexts(readFileSync(f, "utf8").replaceAll(/Exception\([^;]*;/g, "")).map(
          (t) => `${f.split("/").pop()}: ${t}`,
        ),
      ),
    );
    // Why something is refused: a path, an entry of the record; and the key of what has no policy.
    const refusals = /^(Place|Chain|Way|Id)\.java|without a policy|^Readiness\.java: fleet list/;
    expect(found.filter((t) => !refusals.test(t))).toEqual([]);
  });
});
