const FIELDS = "input:not([type=checkbox]):not([type=radio]), textarea, select, [contenteditable=true]";

/** True where what is pressed is text in a field, and no key of the page. */
export const isTyping = (target: EventTarget | null) =>
  target instanceof HTMLElement && target.closest(FIELDS) !== null;
