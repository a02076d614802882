<script setup lang="ts">
import { nextTick } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import ChoiceField from "@/parts/ChoiceField.vue";

export interface PartRule { pattern: string; holds?: string; counts?: string }
interface Choice { label: string; value: string }
/** Rules of the gate that are different in parts of a site; of several parts that fit a page the narrowest counts. */
defineProps<{ holds: Choice[]; counts: Choice[] }>();
const parts = defineModel<PartRule[]>({ required: true });

function change(at: number, name: keyof PartRule, value: string | undefined | null) {
  parts.value = parts.value.map((one, place) => (place === at ? { ...one, [name]: value || undefined } : one)) as PartRule[];
}
async function add() {
  parts.value = [...parts.value, { pattern: "/" }];
  await nextTick();
  document.getElementById(`gp-${parts.value.length - 1}`)?.focus();
}
async function remove(at: number) {
  parts.value = parts.value.filter((_, place) => place !== at);
  await nextTick();
  document.getElementById("gp-add")?.focus();
}
</script>

<template>
  <fieldset class="boxed stack tight">
    <legend>Different in parts of the site</legend>
    <p v-if="!parts.length" class="soft small">The same rules hold everywhere.</p>
    <div v-for="(part, at) in parts" :key="at" class="row" role="group" :aria-label="`Part ${at + 1}, ${part.pattern}`">
      <div class="field"><label :for="`gp-${at}`">Part {{ at + 1 }}: path, * for anything</label><InputText :id="`gp-${at}`" :model-value="part.pattern" placeholder="/news/*" @update:model-value="(value) => change(at, 'pattern', value)" /></div>
      <ChoiceField :model-value="part.holds" :label="`Part ${at + 1}: holds from`" :options="holds" all="as everywhere" @update:model-value="(value) => change(at, 'holds', value)" />
      <ChoiceField :model-value="part.counts" :label="`Part ${at + 1}: what counts`" :options="counts" all="as everywhere" @update:model-value="(value) => change(at, 'counts', value)" />
      <Button :label="`Remove part ${at + 1}`" variant="text" size="small" @click="remove(at)" />
    </div>
    <div><Button id="gp-add" label="Add a part" variant="outlined" size="small" @click="add" /></div>
  </fieldset>
</template>

<style scoped>
.row { align-items: end; }
</style>
