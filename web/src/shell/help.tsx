/** The button and the key that open what the page in view understands. */
import { CircleHelp } from "lucide-react";
import { Suspense, useEffect, useState } from "react";
import { later } from "../parts/later";
import { isTyping } from "../parts/typing";

const HelpPage = later(() => import("./help-page").then((module) => module.HelpPage));

export function Help() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (event.key !== "?" || event.ctrlKey || event.metaKey || isTyping(event.target)) return;
      if (document.querySelector("[role=dialog]")) return;
      event.preventDefault();
      event.stopPropagation(); // a cell would take it for the first letter of what is typed into it
      setOpen(true);
    };
    window.addEventListener("keydown", key, true);
    return () => window.removeEventListener("keydown", key, true);
  }, []);
  return (
    <>
      <button
        type="button"
        aria-label="What is understood here"
        title="What is understood here (?)"
        className="hidden flex-none hover:text-white sm:block"
        onClick={() => setOpen(true)}
      >
        <CircleHelp size={17} aria-hidden="true" />
      </button>
      {open && (
        <Suspense fallback={null}>
          <HelpPage close={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
