/** Code that comes when it is first wanted. */
import { type ComponentType, lazy, useState } from "react";

export type Later<Props> = ComponentType<Props> & {
  /** Fetch its code, so that it is there when it is drawn. */
  load: () => Promise<unknown>;
};

/**
 * A component whose code is fetched when it is first drawn, unless it was fetched before: then it is drawn at once.
 *
 * React's `lazy` alone shows what stands in even for code that is there, and leaves it standing for 300 ms.
 */
export function later<Props extends object>(fetch: () => Promise<ComponentType<Props>>): Later<Props> {
  let there: ComponentType<Props> | undefined;
  let coming: Promise<{ default: ComponentType<Props> }> | undefined;
  function load() {
    coming ??= fetch().then(
      (component) => {
        there = component;
        return { default: component };
      },
      (error) => {
        coming = undefined; // whoever wants it next tries again
        Waiting = lazy(load);
        throw error;
      },
    );
    return coming;
  }
  let Waiting = lazy(load);
  function Shown(props: Props) {
    const [Component] = useState<ComponentType<Props>>(() => there ?? (Waiting as unknown as ComponentType<Props>));
    return <Component {...props} />;
  }
  return Object.assign(Shown, { load });
}
