<script setup lang="ts">
import { computed, ref, watch } from "vue";
import type { FindingInFull } from "@/api/client";
import type { Proposal } from "@/mends/proposal";
import { usePageView } from "@/use/pageView";

/** The page's outline with the heading in it: choose its level and see what becomes of the rest. */
const props = defineProps<{ finding: FindingInFull }>();
const chosen = defineModel<Proposal | null>({ required: true });
const { data: view } = usePageView(() => props.finding.reading_id, "outline");
interface Row {
  kind: string;
  level: number | null;
  name: string;
  selector: string;
}
const headings = computed(() =>
  ((view.value?.rows ?? []) as unknown as Row[]).filter((row) => row.kind === "heading"),
);
const at = computed(() =>
  headings.value.findIndex((row) => row.selector === props.finding.selector),
);
const here = computed(() => headings.value[at.value]);
const level = ref<number | "text" | null>(
  chosen.value?.to === "p"
    ? "text"
    : chosen.value?.to
      ? Number(chosen.value.to.replace("h", ""))
      : null,
);
const along = ref(true);
const wanted = computed(() => level.value ?? here.value?.level ?? null);

/** The headings below this one, up to the next of its level or higher: they may go along with it. */
const below = computed(() => {
  const first = at.value + 1;
  const end = headings.value.findIndex(
    (row, number) => number >= first && row.level! <= (here.value?.level ?? 0),
  );
  return new Set(headings.value.slice(first, end < 0 ? undefined : end).map((row) => row.selector));
});
const shown = computed(() => {
  const shift =
    typeof wanted.value === "number" && along.value && here.value
      ? wanted.value - here.value.level!
      : 0;
  let before = 0;
  return headings.value.flatMap((row) => {
    const own = row.selector === props.finding.selector;
    if (own && wanted.value === "text") return [];
    const now = own
      ? (wanted.value as number)
      : Math.min(6, Math.max(1, row.level! + (below.value.has(row.selector) ? shift : 0)));
    const jump = before > 0 ? now > before + 1 : now > 3;
    before = now;
    return [{ ...row, own, now, jump, moved: now !== row.level }];
  });
});
const jumps = computed(() => shown.value.filter((row) => row.jump).length);
watch(
  [level, along],
  () => {
    if (level.value === null || level.value === here.value?.level) {
      chosen.value = null;
      return;
    }
    const moved = shown.value.filter((row) => row.moved && !row.own).length;
    chosen.value =
      level.value === "text"
        ? { kind: "rename-element", to: "p", says: "Make it ordinary text, not a heading." }
        : {
            ...(moved
              ? { kind: "move-section", to: String(level.value) }
              : { kind: "rename-element", to: `h${level.value}` }),
            says: `Make it a heading of level ${level.value}${moved ? `, and move the ${moved} below it along` : ""}.`,
          };
  },
  { flush: "sync" },
);
</script>

<template>
  <div class="stack tight">
    <template v-if="here">
      <fieldset class="row">
        <legend>Level of “{{ here.name || "(empty)" }}”</legend>
        <label v-for="one in 6" :key="one" class="row"
          ><input
            type="radio"
            name="level"
            :value="one"
            :checked="wanted === one"
            @change="level = one"
          />
          {{ one }}</label
        >
        <label class="row"
          ><input
            type="radio"
            name="level"
            value="text"
            :checked="wanted === 'text'"
            @change="level = 'text'"
          />
          no heading</label
        >
      </fieldset>
      <label v-if="below.size" class="row"
        ><input v-model="along" type="checkbox" /> Move the {{ below.size }} headings below it
        along</label
      >
      <p role="status">
        <strong :class="jumps ? 'bad' : 'good'">{{
          jumps ? `${jumps} jump${jumps === 1 ? "" : "s"} in the outline` : "No jump in the outline"
        }}</strong>
        as it would be:
      </p>
      <ul class="plain-list outline" aria-label="The outline as it would be">
        <li
          v-for="(row, number) in shown"
          :key="number"
          :style="{ paddingLeft: `${(row.now - 1) * 18}px` }"
          :class="{ own: row.own }"
        >
          <span class="badge">h{{ row.now }}</span> {{ row.name || "(empty)"
          }}<span v-if="row.moved" class="soft small"> was h{{ row.level }}</span
          ><span v-if="row.jump" class="bad small"> jumps</span>
        </li>
      </ul>
    </template>
    <p v-else-if="view" class="soft">
      {{
        view.stored
          ? "The page has no heading in this place; the mends above say what to write."
          : "The outline of this reading is not kept any more; read the page again to see it."
      }}
    </p>
  </div>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  gap: 6px 14px;
}
legend {
  font-weight: 600;
  padding: 0 0 4px;
}
label {
  gap: 6px;
}
input[type="radio"] {
  width: 20px;
  height: 20px;
  accent-color: var(--plum);
}
.outline {
  max-height: 24em;
  overflow: auto;
  border: 1px solid var(--line);
  border-radius: 8px;
  padding: 8px 12px;
}
li {
  padding: 2px 0;
  overflow-wrap: anywhere;
}
.own {
  font-weight: 700;
  background: var(--soft-plum);
}
.badge {
  display: inline-block;
  min-width: 30px;
  border: 1px solid var(--edge);
  border-radius: 5px;
  font-size: 13px;
  text-align: center;
}
.bad {
  color: var(--barrier-ink);
  font-weight: 600;
}
.good {
  color: var(--good);
}
</style>
