import { useSyncExternalStore } from "react";

const WIDE = window.matchMedia("(min-width: 640px)");

const listen = (tell: () => void) => {
  WIDE.addEventListener("change", tell);
  return () => WIDE.removeEventListener("change", tell);
};

/** True but on a phone: as wide as the stylesheet's `sm`. For what is built otherwise there, not only drawn otherwise. */
export const useWide = () => useSyncExternalStore(listen, () => WIDE.matches);
