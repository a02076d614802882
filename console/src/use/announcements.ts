import { reactive } from "vue";

interface Announcement {
  id: number;
  says: string;
  undo?: () => Promise<unknown>;
}
/** What was just done, with the way back. It stays until it is closed, pushed out by newer ones, or undone: nobody is hurried. */
export const said = reactive<Announcement[]>([]);
const MOST = 3;
let count = 0;

export function announce(says: string, undo?: () => Promise<unknown>) {
  said.push({ id: ++count, says, undo });
  if (said.length > MOST) said.shift();
}

export function close(id: number) {
  const at = said.findIndex((one) => one.id === id);
  if (at >= 0) said.splice(at, 1);
}

/** Take the newest thing back that can be. */
export async function undoLast(id?: number) {
  const last = said.findLast((one) => one.undo && (id === undefined || one.id === id));
  if (!last) return;
  close(last.id);
  try {
    await last.undo!();
    announce(`Taken back: ${last.says}`);
  } catch (error) {
    announce(`Could not be taken back: ${error instanceof Error ? error.message : String(error)}`);
  }
}
