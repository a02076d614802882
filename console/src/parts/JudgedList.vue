<script setup lang="ts">
import { computed } from "vue";
import type { JudgedFinding } from "@/api/client";
import { count } from "@/format";
import MendLine from "@/parts/MendLine.vue";
import OwnHelpLine from "@/parts/OwnHelpLine.vue";
import WeightMark from "@/parts/WeightMark.vue";

/** The findings of a clearance: what holds first, then what the change brings, then what was there before. */
const props = defineProps<{ judged: JudgedFinding[]; chosen?: string }>();
const emit = defineEmits<{ choose: [key: string] }>();
const groups = computed(() =>
  [
    { says: "What holds it", items: props.judged.filter((one) => one.standing === "holds") },
    {
      says: "What it brings besides",
      items: props.judged.filter((one) => one.standing !== "holds" && one.origin === "brought"),
    },
    {
      says: "What was there before",
      items: props.judged.filter((one) => one.standing !== "holds" && one.origin === "before"),
    },
  ].filter((group) => group.items.length),
);
const number = (one: JudgedFinding) => props.judged.indexOf(one) + 1;
</script>

<template>
  <section v-for="group in groups" :key="group.says" class="card" :aria-label="group.says">
    <h2>{{ group.says }}: {{ count(group.items.length, "finding") }}</h2>
    <ol class="plain-list">
      <li
        v-for="one in group.items"
        :id="`j-${one.place_key}`"
        :key="one.place_key"
        data-row
        :class="{ chosen: chosen === one.place_key }"
      >
        <button
          type="button"
          class="number"
          :aria-label="`Mark ${number(one)} on the picture`"
          :aria-pressed="chosen === one.place_key"
          @click="emit('choose', one.place_key)"
        >
          {{ number(one) }}
        </button>
        <div>
          <WeightMark :weight="one.weight" :outcome="one.outcome" /> <strong>{{ one.says }}</strong>
          <p class="soft small">
            {{ one.check
            }}{{ one.where ? `, ${one.where}` : one.line ? `, line ${one.line}` : "" }} ·
            {{ one.origin === "brought" ? "brought by this change" : "was there before" }} ·
            {{ one.standing
            }}{{ one.standing === "waived" && one.waiver ? ` (waiver ${one.waiver})` : "" }}
          </p>
          <template v-if="one.standing === 'holds'">
            <pre
              class="code"
              tabindex="0"
              role="group"
              :aria-label="`Markup of finding ${number(one)}`"
              >{{ one.excerpt }}</pre>
            <ul>
              <li v-if="one.in_editor">
                <strong>{{ one.in_editor }}</strong>
              </li>
              <li v-for="mend in one.mends" :key="mend.says"><MendLine :mend="mend" /></li>
            </ul>
            <OwnHelpLine v-if="one.own_help" :help="one.own_help" />
          </template>
        </div>
      </li>
    </ol>
  </section>
</template>

<style scoped>
ol > li {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  gap: 10px;
  padding: 9px 6px;
  border-bottom: 1px solid var(--line);
  overflow-wrap: anywhere;
}
li.chosen {
  background: var(--soft-plum);
}
.number {
  min-width: 30px;
  height: 26px;
  border: 0;
  border-radius: 4px;
  background: #2b2430;
  color: #fff;
  font-weight: 700;
  cursor: pointer;
}
</style>
