// What scripts are looked at for: mistakes, not taste; that is the formatter's.
import js from "@eslint/js";
import globals from "globals";

export default [
  { ignores: ["web/assets/dist/"] },
  js.configs.recommended,
  { files: ["web/assets/src/**/*.js"], languageOptions: { globals: globals.browser } },
  { files: ["web/assets/*.mjs", "web/assets/test/**", "*.js"], languageOptions: { globals: globals.node } },
];
