/** The words of the work that every project knows, as the server gives them with the session. */
import type { Schemas, TaskRow } from "./api";

export type Vocabulary = Schemas["VocabularyOut"];

let known: Vocabulary = { kinds: [], classes: [], priorities: [] };

/** To be called with what the server said, before anything that speaks is drawn. */
export function learn(vocabulary: Vocabulary) {
  known = vocabulary;
}

export const kinds = () => known.kinds;
export const priorities = () => known.priorities;
export const stateClasses = () => known.classes as TaskRow["state_class"][];

/** What a priority is called; nothing for none. */
export const sayPriority = (priority: string | null): string =>
  priority ? (known.priorities.find((one) => one.id === priority)?.name ?? priority) : "";
