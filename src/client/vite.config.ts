import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react()],
  build: { target: "es2023", sourcemap: false, reportCompressedSize: true, assetsInlineLimit: 0 },
  // A running application elsewhere: LANTERN_ADDRESS.
  server: { proxy: { "/api": process.env["LANTERN_ADDRESS"] ?? "http://127.0.0.1:5080" } },
  test: { environment: "node", include: ["**/*.test.ts"] },
});
