import js from "@eslint/js";
import globals from "globals";

export default [
  js.configs.recommended,
  {
    files: ["assets/scripts/**/*.js"],
    languageOptions: { globals: { ...globals.browser, htmx: "readonly" } },
  },
  {
    files: ["assets/build.js", "eslint.config.js"],
    languageOptions: { globals: globals.node },
  },
  {
    rules: {
      eqeqeq: "error",
      "no-var": "error",
      "prefer-const": "error",
      "max-len": ["error", { code: 120, ignoreUrls: true }],
    },
  },
];
