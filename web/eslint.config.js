import js from "@eslint/js";
import jsxA11y from "eslint-plugin-jsx-a11y";
import reactHooks from "eslint-plugin-react-hooks";
import globals from "globals";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["dist", "target", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.strictTypeChecked,
  jsxA11y.flatConfigs.recommended,
  reactHooks.configs.flat["recommended-latest"],
  {
    languageOptions: {
      globals: globals.browser,
      parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname },
    },
  },
  {
    // What every feature stands on knows none of them.
    files: ["src/{api,ribbon,time,ui,why}/**"],
    rules: {
      "no-restricted-imports": ["error", { patterns: [{ group: ["**/features/**", "**/frame/**"] }] }],
    },
  },
  {
    rules: {
      "@typescript-eslint/no-unused-vars": ["error", { ignoreRestSiblings: true }],
      "@typescript-eslint/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
      // Slow, and every library is pinned: what is deprecated shows when one is raised.
      "@typescript-eslint/no-deprecated": "off",
      // The first field of a form that was just asked for has the focus: whoever opened it goes on typing.
      "jsx-a11y/no-autofocus": "off",
      "no-restricted-syntax": [
        "error",
        {
          selector:
            "JSXAttribute[name.name='className'] :matches(Literal[value=/text-\\[\\d/], TemplateElement[value.raw=/text-\\[\\d/])",
          message: "Sizes of type are those of index.css: text-note, text-section, text-page and their like.",
        },
      ],
    },
  },
  {
    files: ["src/**/*.{ts,tsx}"],
    ignores: ["src/**/*.test.{ts,tsx}", "src/test-*"],
    rules: { "max-lines-per-function": ["error", { max: 80, skipBlankLines: true, skipComments: true }] },
  },
  { files: ["*.js", "*.config.ts", "src/**/*.test.{ts,tsx}"], ...tseslint.configs.disableTypeChecked },
);
