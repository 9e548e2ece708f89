import { defineConfig } from "vitest/config";

export default defineConfig({
  test: {
    include: ["src/**/*.test.ts", "demo/**/*.test.ts", "bench/**/*.test.ts"],
    // Time is measured in benchmarks; these only end what hangs, on a busy machine too.
    testTimeout: 600_000,
    hookTimeout: 600_000,
    reporters: ["default"],
    maxWorkers: 2,
  },
});
