import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

const only = (where, group, message) => ({
  files: [`src/${where}/**/*.{ts,tsx}`],
  rules: { "no-restricted-imports": ["error", { patterns: [{ group, message }] }] },
});

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
  only("model", ["react", "react-dom", "@mui/*", "three", "three/*"], "The model is plain TypeScript."),
  only("api", ["@mui/*", "three", "three/*"], "The interface to the server draws nothing."),
  ...["rack", "floor", "sheet", "run", "app"].map((folder) =>
    only(folder, ["three", "three/*"], "Only the scene draws in space."),
  ),
);
