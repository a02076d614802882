import { reactive } from "vue";
import { Problem } from "@/api/client";

/** Who waits for the password to be given again, if somebody does. */
export const asking = reactive<{ waits: null | { go: () => void; leave: () => void } }>({
  waits: null,
});

/** Somebody would rather not give their password again. */
export class Left extends Error {}

/** Do what may want the password again; where it does, ask for it and do it then. */
export async function confirmed<T>(act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (error) {
    if (!(error instanceof Problem) || error.code !== "confirm-first") throw error;
    await new Promise<void>((go, leave) => {
      asking.waits = { go, leave: () => leave(new Left("Nothing was changed.")) };
    });
    return act();
  }
}
