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
    },
  },
  // To be brought down to what holds elsewhere: hands that tell many gestures apart.
  {
    files: [
      "fields",
      "figures",
      "fragments",
      "lanes",
      "link",
      "order",
      "overlay",
      "painter",
      "pair",
      "pathhand",
      "paths",
      "pen",
      "picking",
      "rows",
      "stage",
    ].map((name) => `src/deftarc/web/static/js/${name}.js`),
    rules: { complexity: ["error", 25] },
  },
];
