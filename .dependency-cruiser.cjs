/** Imports run one way: pages → islands → workers → core, pages → server → core, cli → server, core. */
const only = (name, from, allowed) => ({
  name,
  severity: "error",
  comment: `${from} may import only ${allowed}`,
  from: { path: `^src/${from}/`, pathNot: "\\.test\\.ts$" },
  to: { path: "^src/", pathNot: `^src/(${allowed})/` },
});

module.exports = {
  forbidden: [
    only("core-stands-alone", "core", "core"),
    {
      name: "core-uses-pure-packages-only",
      severity: "error",
      comment:
        "core is pure computation: no DOM, no Node, no packages but zod (documents), ml-matrix (linear systems), d3-contour and simplify-js (outlines)",
      from: { path: "^src/core/", pathNot: "\\.test\\.ts$" },
      to: { dependencyTypes: ["npm", "npm-dev", "core"], pathNot: "node_modules/(zod|ml-matrix|d3-contour|simplify-js)/" },
    },
    only("workers-open-core", "workers", "workers|core"),
    only("islands-use-workers", "islands", "islands|workers|core"),
    only("server-uses-core", "server", "server|core"),
    only("cli-uses-server", "cli", "cli|server|core"),
    only("pages-use-all", "pages", "pages|islands|server|core|styles"),
    {
      name: "no-circles",
      severity: "error",
      from: { path: "^src/" },
      to: { circular: true, viaOnly: { dependencyTypesNot: ["type-only"] } },
    },
    { name: "tests-stay-out", severity: "error", from: { path: "^src/", pathNot: "\\.test\\.ts$" }, to: { path: "\\.test\\.ts$" } },
  ],
  options: { doNotFollow: { path: "node_modules" }, tsConfig: { fileName: "tsconfig.json" }, tsPreCompilationDeps: "specify" },
};
