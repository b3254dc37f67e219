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

type Graph = { getModuleInfo(id: string): { importedIds: readonly string[] } | null };

/** Where what a page of a project cannot be drawn without begins, by the name of the file that it comes in. */
const FIRST: Record<string, string[]> = {
  main: ["/src/main.tsx"],
  project: ["/src/shell/project/index.tsx", "/src/tasks/outline/index.tsx", "/src/overview/find.tsx"],
};

/** It comes in two files, not in forty: a browser asks for six at a time, and each time waits for the network. */
function fileOf(id: string, graph: Graph, known: Map<string, string>) {
  if (!known.size)
    for (const [file, begins] of Object.entries(FIRST)) {
      const waiting = begins.map((one) => import.meta.dirname + one);
      for (let one = waiting.pop(); one; one = waiting.pop()) {
        if (known.has(one)) continue;
        known.set(one, file);
        waiting.push(...(graph.getModuleInfo(one)?.importedIds ?? []));
      }
    }
  return known.get(id) ?? null;
}

const known = new Map<string, string>();

/** Lets a browser ask for the second of them while it reads the first. */
function asked(): Plugin {
  return {
    name: "asked",
    apply: "build",
    transformIndexHtml(_, { bundle = {} }) {
      const second = Object.keys(bundle).find((one) => /^assets\/project-.*\.js$/.test(one));
      return second ? [{ tag: "link", attrs: { rel: "modulepreload", crossorigin: true, href: `/${second}` } }] : [];
    },
  };
}

export default defineConfig({
  plugins: [react(), tailwindcss(), packed(), asked()],
  build: {
    target: "es2022",
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        codeSplitting: {
          includeDependenciesRecursively: false,
          groups: [{ name: (id, graph) => fileOf(id, graph, known) }],
        },
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8470" } },
});
