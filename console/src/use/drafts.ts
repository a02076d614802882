import { ref, watch, type Ref } from "vue";
import { session } from "@/session";

/** What somebody types is kept in this browser until it is sent: it outlives a reload and a sign-out, and is shown to the same person alone. */
export function useDraft(
  name: string,
  initial = "",
): { words: Ref<string>; forget: () => void; isKept: boolean } {
  const key = `plumrake-draft:${session.me?.id ?? 0}:${name}`;
  const kept = localStorage.getItem(key);
  const words = ref(kept ?? initial);
  watch(
    words,
    (now) => {
      if (now && now !== initial) localStorage.setItem(key, now);
      else localStorage.removeItem(key);
    },
    { flush: "sync" },
  );
  function forget() {
    words.value = initial;
    localStorage.removeItem(key);
  }
  return { words, forget, isKept: kept !== null };
}
