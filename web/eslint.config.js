import js from "@eslint/js";
import reactHooks from "eslint-plugin-react-hooks";
import globals from "globals";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["dist", "target", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  reactHooks.configs.flat["recommended-latest"],
  { languageOptions: { globals: globals.browser } },
  {
    // What every feature stands on knows none of them.
    files: ["src/{api,ribbon,time,ui,why}/**"],
    rules: {
      "no-restricted-imports": ["error", { patterns: [{ group: ["**/features/**", "**/frame/**"] }] }],
    },
  },
  { rules: { "@typescript-eslint/no-unused-vars": ["error", { ignoreRestSiblings: true }] } },
);
