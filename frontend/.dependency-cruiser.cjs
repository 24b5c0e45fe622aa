/** Which folder may import which. `npm run rooms` checks it, and so does ./test. */
const tests = "[.]test[.]tsx?$";

module.exports = {
  forbidden: [
    {
      name: "no-circles",
      comment: "No file waits for itself.",
      severity: "error",
      from: {},
      to: { circular: true },
    },
    {
      name: "no-circles-of-folders",
      comment: "No folder waits for itself either.",
      severity: "error",
      scope: "folder",
      from: {},
      to: { circular: true },
    },
    {
      name: "only-through-the-index",
      comment: "What a folder offers to others stands in its index.ts.",
      severity: "error",
      from: { path: "^src/(.+)/[^/]+$", pathNot: [tests, "^src/api/generated/"] },
      to: {
        path: "^src/.+/[^/]+[.]tsx?$",
        pathNot: ["^src/$1/[^/]+$", "/index[.]ts$", "^src/api/generated/"],
      },
    },
    {
      name: "the-document-knows-no-screen",
      severity: "error",
      from: { path: "^src/sound/", pathNot: tests },
      to: { path: "^src/", pathNot: "^src/(sound|api|ui)/" },
    },
    {
      name: "small-parts-know-no-feature",
      severity: "error",
      from: { path: "^src/(ui|audio|api)/" },
      to: { path: "^src/", pathNot: "^src/(ui|audio|api)/" },
    },
    {
      name: "screens-apart",
      comment: "The Bench and Libraries meet in the catalogue, not in each other's parts.",
      severity: "error",
      from: { path: "^src/bench/" },
      to: { path: "^src/(libraries|shared|shell|session)/" },
    },
    {
      name: "screens-apart-2",
      severity: "error",
      from: { path: "^src/libraries/" },
      to: { path: "^src/(bench|shared|shell)/" },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: tests },
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: true,
  },
};
