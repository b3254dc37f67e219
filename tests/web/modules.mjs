// Runs modules of the web application without a browser: a line of JSON in is {module, code, args}, a line out {value} or {error}.
import { createRequire } from "node:module";
import { createInterface } from "node:readline";
import { pathToFileURL } from "node:url";

const root = process.argv[2];
globalThis.window ??= new EventTarget(); // what is written for a page may listen to it
const vite = await import(pathToFileURL(createRequire(`${root}/package.json`).resolve("vite")));
const server = await vite.createServer({
  root,
  configFile: false,
  logLevel: "error",
  appType: "custom",
  server: { middlewareMode: true, hmr: false, ws: false, watch: null },
  optimizeDeps: { noDiscovery: true },
});
const load = (path) => server.ssrLoadModule(path);
process.stdout.write("ready\n");
for await (const line of createInterface({ input: process.stdin })) {
  const { module, code, args } = JSON.parse(line);
  let answer;
  try {
    const loaded = await load(module);
    answer = { value: (await new Function("module", "load", ...Object.keys(args), `return (${code});`)(loaded, load, ...Object.values(args))) ?? null };
  } catch (error) {
    answer = { error: String(error?.stack ?? error) };
  }
  process.stdout.write(`${JSON.stringify(answer)}\n`);
}
await server.close();
