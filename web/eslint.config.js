import { readdirSync } from "node:fs";

import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

const only = (where, group, message) => ({
  files: [`src/${where}/**/*.{ts,tsx}`],
  rules: { "no-restricted-imports": ["error", { patterns: [{ group, message }] }] },
});

// Each folder of src/steps is a kind of step. Whoever needs to know which kind it has asks the kind's own entry in the registry.
const kinds = readdirSync("src/steps", { withFileTypes: true })
  .filter((entry) => entry.isDirectory())
  .map((entry) => entry.name)
  .join("|");
const noKindByName = {
  files: ["src/**/*.{ts,tsx}"],
  ignores: ["src/steps/**"],
  rules: {
    "no-restricted-syntax": [
      "error",
      ...["left.property.name", "left.name"].map((named) => ({
        selector: `BinaryExpression[operator=/^[!=]==?$/][${named}="kind"][right.value=/^(${kinds})$/]`,
        message: "Ask the step's kind (src/steps/registry.ts) instead of its name.",
      })),
      {
        selector: `SwitchStatement[discriminant.property.name="kind"] > SwitchCase[test.value=/^(${kinds})$/]`,
        message: "Ask the step's kind (src/steps/registry.ts) instead of its name.",
      },
    ],
  },
};

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  ...tseslint.configs.strict,
  {
    files: ["src/**/*.{ts,tsx}"],
    plugins: { "react-hooks": reactHooks },
    rules: {
      ...reactHooks.configs.recommended.rules,
      "@typescript-eslint/consistent-type-imports": "error",
    },
  },
  noKindByName,
  only("model", ["react", "react-dom", "@mui/*", "three", "three/*"], "The model is plain TypeScript."),
  only("api", ["@mui/*", "three", "three/*"], "The interface to the server draws nothing."),
  ...["rack", "floor", "sheet", "run", "app"].map((folder) =>
    only(folder, ["three", "three/*"], "Only the scene draws in space."),
  ),
);
