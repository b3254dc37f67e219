import { z } from "zod";

// the content security policy lets nothing be compiled from text
z.config({ jitless: true });

export { z };
