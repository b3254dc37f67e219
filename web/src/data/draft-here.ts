/** The draft that a page is in: the address says which, so that a link opens it, and every request carries it. */
import { client } from "./api";

const PAGE = /^\/p\/([^/]+)/;
const HEADER = "Rhodonite-Draft";

/** The draft in the address of this page, and the project that it belongs to. */
export function draftHere(): { id: string; code: string } | null {
  const code = PAGE.exec(location.pathname)?.[1]?.toUpperCase();
  const id = new URLSearchParams(location.search).get("draft");
  return code && id ? { id, code } : null;
}

client.use({
  onRequest({ request }) {
    const here = draftHere();
    if (!here || request.headers.has(HEADER)) return;
    const path = new URL(request.url).pathname;
    // what belongs to the project is read as the draft has it; nothing else knows of drafts
    if (path.startsWith(`/api/projects/${here.code}/`) || path.startsWith("/api/tasks/"))
      request.headers.set(HEADER, here.id);
  },
});

/** An address for a file, as the draft has it. */
export function withDraft(address: string): string {
  const here = draftHere();
  return here ? `${address}${address.includes("?") ? "&" : "?"}draft=${here.id}` : address;
}
