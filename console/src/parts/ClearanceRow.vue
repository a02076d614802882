<script setup lang="ts">
import { RouterLink } from "vue-router";
import type { Clearance } from "@/api/client";
import DecisionMark from "@/parts/DecisionMark.vue";

/** A clearance in a list: its answer, the page and why; the slot is what stands at the end. */
defineProps<{
  site: string;
  number: number;
  row: Pick<Clearance, "decision" | "state" | "path" | "reason"> & { overruled_by?: string | null };
}>();
</script>

<template>
  <div class="one">
    <div class="holder"><DecisionMark :clearance="row" /></div>
    <div class="what">
      <RouterLink
        :to="{ name: 'clearance', params: { site, clearance: number } }"
        :aria-label="`${row.path}, clearance ${number}`"
        >{{ row.path }}</RouterLink
      >
      <p class="soft small">{{ row.reason || "is being read" }}</p>
    </div>
    <div class="who"><slot /></div>
  </div>
</template>

<style scoped>
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  padding: 9px 18px;
  align-items: flex-start;
  overflow-wrap: anywhere;
}
.holder {
  flex: 0 0 9.6em;
}
.what {
  flex: 1 1 18em;
  min-width: 0;
}
.who {
  flex: 0 1 13em;
  min-width: 0;
}
</style>
