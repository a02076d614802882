<script setup lang="ts">
import { computed } from "vue";
import type { Clearance } from "@/api/client";

/** What the gate answered, in one word and colour. */
const props = defineProps<{
  clearance: Pick<Clearance, "decision" | "state"> & { overruled_by?: string | null };
}>();
const kind = computed(() =>
  props.clearance.state === "waiting"
    ? "waiting"
    : props.clearance.decision === "held"
      ? props.clearance.overruled_by
        ? "overruled"
        : "held"
      : "clear",
);
const label = computed(
  () =>
    ({
      waiting: "waiting",
      held: "held",
      overruled: "held, overruled",
      clear: props.clearance.decision ?? "clear",
    })[kind.value],
);
</script>

<template>
  <span class="mark" :class="kind">{{ label }}</span>
</template>

<style scoped>
.mark {
  display: inline-block;
  padding: 1px 10px;
  border-radius: 10px;
  font-size: 13px;
  font-weight: 600;
  color: #fff;
  white-space: nowrap;
}
.held {
  background: var(--barrier);
}
.overruled {
  background: var(--obstacle);
}
.clear {
  background: #2f6b35;
}
.waiting {
  background: var(--friction);
}
</style>
