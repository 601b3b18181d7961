import js from "@eslint/js";
import globals from "globals";
import { flatConfigs } from "eslint-plugin-import-x";

export default [
  js.configs.recommended,
  flatConfigs.errors,
  {
    files: ["src/deftarc/web/static/js/**/*.js"],
    languageOptions: { ecmaVersion: 2024, sourceType: "module", globals: { ...globals.browser } },
    rules: {
      complexity: ["error", 15],
      "import-x/no-cycle": "error",
      "no-undef": "error",
      "no-unused-vars": ["error", { argsIgnorePattern: "^_" }],
      eqeqeq: "error",
      "no-restricted-syntax": [
        "error",
        {
          selector:
            'CallExpression[callee.property.name=/^(querySelector|querySelectorAll|matches|closest)$/] > TemplateLiteral:has(TemplateElement[value.raw=/="?$/])',
          message: "A name makes no selector: see withdata.js.",
        },
      ],
    },
  },
];
