import { useQueryClient } from "@tanstack/vue-query";
import { onUnmounted, reactive, watch } from "vue";
import type { LiveEvent } from "@/api/client";
import { session } from "@/session";

/** The connection over which changes of a site come: `off` before a site is open, `lost` while it is tried again. */
export const live = reactive<{ state: "off" | "on" | "lost"; unread: number }>({
  state: "off",
  unread: 0,
});
const AGAIN_MS = 3_000;
const OF_FIXES = ["fixes", "fix", "desk", "causes", "history", "finding"];

/** Follow a site's changes as long as the component is there; a lost connection is healed, and what was missed is fetched. */
export function useLive(site: () => string | undefined) {
  const cache = useQueryClient();
  let source: EventSource | null = null;
  let again: ReturnType<typeof setTimeout> | undefined;

  function stop() {
    clearTimeout(again);
    source?.close();
    source = null;
  }

  function open(slug: string) {
    stop();
    source = new EventSource(`/api/v1/sites/${slug}/live`);
    source.addEventListener("open", () => {
      if (live.state === "lost") void cache.invalidateQueries();
      live.state = "on";
    });
    source.addEventListener("error", () => {
      live.state = "lost";
      if (source?.readyState !== EventSource.CLOSED) return;
      again = setTimeout(() => {
        if (session.me) open(slug);
      }, AGAIN_MS);
    });
    source.addEventListener("live", (event) => hear(JSON.parse(event.data) as LiveEvent));
  }

  function hear(event: LiveEvent) {
    if (event.unread != null) live.unread = event.unread;
    if (event.kind === "fixes")
      for (const key of OF_FIXES) void cache.invalidateQueries({ queryKey: [key] });
    if (event.kind === "notifications")
      void cache.invalidateQueries({ queryKey: ["notifications"] });
    if (event.kind === "sweep") {
      const ended = event.state === "done" || event.state === "failed" || event.state === "stopped";
      void cache.invalidateQueries(ended ? undefined : { queryKey: ["sweeps"] });
    }
  }

  watch(
    () => [site(), session.me?.id] as const,
    ([slug, me]) => {
      if (slug && me) open(slug);
      else {
        stop();
        live.state = "off";
      }
    },
    { immediate: true },
  );
  onUnmounted(stop);
}
