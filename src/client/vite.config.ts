import { promisify } from "node:util";
import { brotliCompress, constants, gzip } from "node:zlib";
import { readFile, readdir, writeFile } from "node:fs/promises";
import react from "@vitejs/plugin-react";
import type { Plugin } from "vite";
import { defineConfig } from "vitest/config";

// Written in both at once: text in Latin letters, and headings.
const firstFonts = /(hanken-grotesk|fraunces)-latin-wght-normal-.*\.woff2$/;

/** Names the fonts of the first screen in the page, so that they come with the script and not after it. */
const preloadFonts = (): Plugin => ({
  name: "preload-fonts",
  transformIndexHtml: {
    order: "post",
    handler: (_, { bundle }) =>
      Object.keys(bundle ?? {})
        .filter((file) => firstFonts.test(file))
        .map((file) => ({ tag: "link", attrs: { rel: "preload", href: `/${file}`, as: "font", type: "font/woff2", crossorigin: "" }, injectTo: "head" })),
  },
});

/** Puts a compressed copy beside each text file, packed once as small as it goes; the server only sends them. */
const precompress = (): Plugin => ({
  name: "precompress",
  apply: "build",
  async writeBundle({ dir }) {
    const [packBrotli, packGzip] = [promisify(brotliCompress), promisify(gzip)];
    const files = (await readdir(dir!, { recursive: true })).filter((f) => /\.(js|css|html|svg|json)$/.test(f));
    await Promise.all(
      files.map(async (file) => {
        const path = `${dir}/${file}`;
        const text = await readFile(path);
        await writeFile(`${path}.br`, await packBrotli(text, { params: { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: text.length } }));
        await writeFile(`${path}.gz`, await packGzip(text, { level: 9 }));
      }),
    );
  },
});

export default defineConfig({
  plugins: [react(), preloadFonts(), precompress()],
  build: { target: "es2023", sourcemap: false, reportCompressedSize: true, assetsInlineLimit: 0 },
  // The files of the folder "api" are the client's own. An application that runs elsewhere: LANTERN_ADDRESS.
  server: { proxy: { "^/api/(?!.*\\.ts$)": process.env["LANTERN_ADDRESS"] ?? "http://127.0.0.1:5080" } },
  test: { environment: "node", include: ["**/*.test.{ts,tsx}"] },
});
