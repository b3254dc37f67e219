import { readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { promisify } from "node:util";
import { brotliCompress, constants, gzip } from "node:zlib";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

const pack = { br: promisify(brotliCompress), gz: promisify(gzip) };
const hard = { br: { params: { [constants.BROTLI_PARAM_QUALITY]: 11 } }, gz: { level: 9 } };

/** Lays what is text beside itself, packed as small as can be, so that this is not done at each request. */
function packed(): Plugin {
  return {
    name: "packed",
    apply: "build",
    async writeBundle({ dir = "" }, bundle) {
      for (const name of Object.keys(bundle).filter((one) => /\.(js|css|svg)$/.test(one))) {
        const text = await readFile(join(dir, name));
        for (const ending of ["br", "gz"] as const)
          await writeFile(join(dir, `${name}.${ending}`), await pack[ending](text, hard[ending]));
      }
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), packed()],
  build: { target: "es2022", chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": "http://127.0.0.1:8470" } },
});
