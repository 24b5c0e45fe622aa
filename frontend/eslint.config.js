import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["src/api/generated", "dist"] },
  ...tseslint.configs.strict,
  hooks.configs.flat["recommended-latest"],
  {
    rules: {
      "@typescript-eslint/no-explicit-any": "error",
      // The compiler it speaks for is not used here.
      "react-hooks/incompatible-library": "off",
      "@typescript-eslint/consistent-type-imports": "error",
      "max-lines": ["error", { max: 250, skipBlankLines: true, skipComments: true }],
    },
  },
);
