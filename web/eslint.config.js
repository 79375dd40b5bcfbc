import hooks from "eslint-plugin-react-hooks";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/api/generated", "node_modules"] },
  ...ts.configs.recommended,
  hooks.configs.flat["recommended"],
  // three.js objects are made to be changed in place; React never compares them.
  { files: ["src/scene/**"], rules: { "react-hooks/immutability": "off" } },
  {
    rules: {
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/consistent-type-imports": "error",
    },
  },
);
