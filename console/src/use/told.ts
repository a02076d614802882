import { reactive } from "vue";

interface Told { id: number; says: string; undo?: () => Promise<unknown> }
/** What was just done, with the way back. It stays until it is closed, pushed out by newer ones, or undone: nobody is hurried. */
export const told = reactive<Told[]>([]);
const MOST = 3;
let count = 0;

export function tell(says: string, undo?: () => Promise<unknown>) {
  told.push({ id: ++count, says, undo });
  if (told.length > MOST) told.shift();
}

export function close(id: number) {
  const at = told.findIndex((one) => one.id === id);
  if (at >= 0) told.splice(at, 1);
}

/** Take the newest thing back that can be. */
export async function undoLast(id?: number) {
  const last = told.findLast((one) => one.undo && (id === undefined || one.id === id));
  if (!last) return;
  close(last.id);
  try {
    await last.undo!();
    tell(`Taken back: ${last.says}`);
  } catch (error) {
    tell(`Could not be taken back: ${error instanceof Error ? error.message : String(error)}`);
  }
}
