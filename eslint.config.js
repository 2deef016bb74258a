// Checks of the ES modules: mistakes, names that say nothing, functions that fit no screen.
const js = require("@eslint/js");
const globals = require("globals");

module.exports = [
  { ignores: ["**/vendor/**", "node_modules/**", ".venv/**", "var/**"] },
  js.configs.recommended,
  {
    files: ["src/**/*.js"],
    languageOptions: { ecmaVersion: 2023, sourceType: "module", globals: globals.browser },
    rules: {
      eqeqeq: "error",
      "no-var": "error",
      "prefer-const": "error",
      "no-unused-vars": ["error", { argsIgnorePattern: "^_" }],
      "max-lines-per-function": ["error", { max: 90, skipComments: true }],
      "id-length": [
        "error",
        { min: 2, properties: "never", exceptions: ["x", "y", "w", "h", "a", "b", "n", "_"] },
      ],
    },
  },
  { files: ["eslint.config.js"], languageOptions: { sourceType: "commonjs", globals: globals.node } },
];
