<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, nextTick, ref, watch } from "vue";
import { useRouter, type RouteLocationRaw } from "vue-router";
import { api, data, type FoundThing } from "@/api/client";
import { useKeys } from "@/use/keys";

/** Find anything of a site by its words: a dialog with a field and a list that the arrow keys go through. */
const props = defineProps<{ site: string }>();
const router = useRouter();
const dialog = ref<HTMLDialogElement | null>(null);
const words = ref("");
const asked = ref("");
const at = ref(0);
let waiting: ReturnType<typeof setTimeout> | undefined;

const KINDS: Record<FoundThing["kind"], string> = {
  page: "Page",
  cause: "Cause",
  fix: "Fix",
  check: "Check",
  person: "Person",
};
const { data: found, isFetching } = useQuery({
  queryKey: ["find", computed(() => props.site), asked],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/find", {
        params: { path: { slug: props.site }, query: { words: asked.value } },
      }),
    ),
  enabled: computed(() => asked.value.length > 0),
  placeholderData: (before) => before,
});
const things = computed(() => (asked.value ? (found.value?.items ?? []) : []));
const status = computed(() => {
  if (!asked.value) return "Type some letters of a page, cause, fix, check or name.";
  if (isFetching.value && !things.value.length) return "Looking …";
  return things.value.length
    ? `${things.value.length} found. The arrow keys choose, Enter opens.`
    : "Nothing is called so.";
});

/** Whether the list is of what stands in the field: until then nothing is chosen from it. */
const isSettled = computed(() => words.value.trim() === asked.value && !isFetching.value);
const entered = ref(false);
watch(isSettled, (settled) => {
  if (settled && entered.value) choose(things.value[at.value]);
});

watch(words, (now) => {
  clearTimeout(waiting);
  entered.value = false;
  waiting = setTimeout(() => {
    asked.value = now.trim();
    at.value = 0;
  }, 150);
});

async function open() {
  dialog.value?.showModal();
  await nextTick();
  dialog.value?.querySelector("input")?.select();
}

function place(thing: FoundThing): RouteLocationRaw {
  const params = { site: props.site };
  if (thing.kind === "page") return { name: "page", params, query: { path: thing.key } };
  if (thing.kind === "cause") return { name: "cause", params: { ...params, cause: thing.key } };
  if (thing.kind === "fix") return { name: "fix", params: { ...params, fix: thing.key } };
  if (thing.kind === "check")
    return { name: "check", params: { ...params, check: thing.key.split("/") } };
  return { name: "fixes", params, query: { owner: `p${thing.key}` } };
}

/** Open what is chosen; what was typed too fast for the list is opened when that is there. */
function enter() {
  entered.value = !isSettled.value;
  if (isSettled.value) choose(things.value[at.value]);
}

function choose(thing: FoundThing | undefined) {
  entered.value = false;
  if (!thing) return;
  dialog.value?.close();
  void router.push(place(thing));
}

function move(event: KeyboardEvent) {
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (step === undefined || !things.value.length) return;
  event.preventDefault();
  at.value = (at.value + step + things.value.length) % things.value.length;
  void nextTick(() =>
    document.getElementById(`found-${at.value}`)?.scrollIntoView({ block: "nearest" }),
  );
}

useKeys([
  { keys: "/", says: "find anything", act: open },
  { keys: "Control+k", says: "find anything", act: open },
]);
</script>

<template>
  <button type="button" class="opener" @click="open">Find anything <kbd>/</kbd></button>
  <dialog ref="dialog" aria-label="Find anything" @click.self="dialog?.close()">
    <div class="inside">
      <label for="find-words">Find pages, causes, fixes, checks, people</label>
      <input
        id="find-words"
        v-model="words"
        class="p-inputtext p-component"
        role="combobox"
        autocomplete="off"
        aria-autocomplete="list"
        aria-controls="find-list"
        :aria-expanded="things.length > 0"
        :aria-activedescendant="things.length ? `found-${at}` : undefined"
        @keydown="move"
        @keydown.enter.prevent="enter"
      />
      <p role="status" class="soft small">{{ status }}</p>
      <ul
        id="find-list"
        role="listbox"
        aria-label="Found"
        class="plain-list"
        :aria-busy="!isSettled"
      >
        <li
          v-for="(thing, number) in things"
          :id="`found-${number}`"
          :key="`${thing.kind} ${thing.key}`"
          role="option"
          :aria-selected="number === at"
          @click="choose(thing)"
          @mousemove="at = number"
        >
          <span class="kind">{{ KINDS[thing.kind] }}</span><span
            >{{ thing.title }}<br /><span class="soft small">{{ thing.detail }}</span></span
          >
        </li>
      </ul>
      <div class="row spread">
        <span class="soft small">Escape closes.</span
        ><button type="button" class="bare" @click="dialog?.close()">Close</button>
      </div>
    </div>
  </dialog>
</template>

<style scoped>
.opener {
  border: 1px solid var(--edge);
  border-radius: 8px;
  background: var(--ground);
  color: var(--ink);
  font: inherit;
  padding: 6px 12px;
  cursor: pointer;
  display: flex;
  gap: 18px;
  align-items: center;
}
kbd {
  font:
    400 12px/1 ui-monospace,
    monospace;
  border: 1px solid var(--edge);
  border-radius: 4px;
  padding: 3px 6px;
}
dialog {
  width: min(680px, calc(100vw - 24px));
  max-height: min(640px, 86vh);
  margin-top: 8vh;
  padding: 0;
  border: 1px solid var(--edge);
  border-radius: 12px;
  background: var(--paper);
  color: var(--ink);
}
dialog::backdrop {
  background: rgb(20 10 25 / 45%);
}
.inside {
  padding: 16px 18px;
  display: grid;
  gap: 6px;
}
label {
  font-weight: 600;
}
input {
  width: 100%;
  padding: 8px 12px;
  border: 1px solid var(--edge);
  border-radius: 6px;
  background: var(--ground);
  color: var(--ink);
  font: inherit;
}
li {
  display: grid;
  grid-template-columns: 64px minmax(0, 1fr);
  gap: 10px;
  padding: 7px 10px;
  border-radius: 8px;
  cursor: pointer;
  overflow-wrap: anywhere;
}
li[aria-selected="true"] {
  background: var(--soft-plum);
  outline: 2px solid var(--plum);
  outline-offset: -2px;
}
.kind {
  font-size: 13px;
  font-weight: 600;
}
</style>
