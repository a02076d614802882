<script setup lang="ts">
import Button from "primevue/button";
import Textarea from "primevue/textarea";
import type { FaultSeen } from "@/api/client";
import ChoiceField from "@/parts/ChoiceField.vue";
import { nameOf, type ShownRow } from "@/use/shownRows";

/** What is wrong, one entry for each fault: which row shows it, in words, and how heavy. */
const faults = defineModel<FaultSeen[]>({ required: true });
const props = defineProps<{ rows: ShownRow[]; busy: boolean }>();
defineEmits<{ more: []; done: []; stop: [] }>();
const WEIGHTS = [
  { label: "Barrier: somebody cannot go on", value: "barrier" },
  { label: "Obstacle: it takes effort", value: "obstacle" },
  { label: "Friction: it is a nuisance", value: "friction" },
];
const about = (fault: FaultSeen) =>
  fault.row === null || fault.row === undefined
    ? "the whole"
    : `${fault.row + 1}, ${nameOf(props.rows[fault.row] ?? {})}`;
</script>

<template>
  <form class="faults stack tight" aria-label="Faults" @submit.prevent="$emit('done')">
    <fieldset v-for="(fault, at) in faults" :key="at">
      <legend>Fault {{ at + 1 }}: {{ about(fault) }}</legend>
      <div class="field">
        <label :for="`f-says-${at}`">What is wrong</label
        ><Textarea :id="`f-says-${at}`" v-model="fault.says" rows="2" required maxlength="1000" />
      </div>
      <ChoiceField v-model="fault.weight" label="How heavy" :options="WEIGHTS" :all="null" />
    </fieldset>
    <div class="row">
      <Button type="submit" label="Answer: a fault" :loading="busy" />
      <Button type="button" label="One more" variant="text" @click="$emit('more')" />
      <Button type="button" label="No fault after all" variant="text" @click="$emit('stop')" />
    </div>
  </form>
</template>

<style scoped>
fieldset {
  margin: 0;
  padding: 8px 12px;
  border: 1px solid var(--edge);
  border-radius: 8px;
}
legend {
  padding: 0 4px;
  font-weight: 600;
  overflow-wrap: anywhere;
}
</style>
