import node from "@astrojs/node";
import react from "@astrojs/react";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "astro/config";

export default defineConfig({
  output: "server",
  adapter: node({ mode: "standalone" }),
  integrations: [react()],
  server: { host: process.env.HOST ?? "127.0.0.1", port: Number(process.env.PORT ?? 4417) },
  // The middleware checks host and origin for every request.
  security: { checkOrigin: false },
  devToolbar: { enabled: false },
  telemetry: false,
  vite: { plugins: [tailwindcss()], worker: { format: "es" } },
});
