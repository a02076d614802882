<script setup lang="ts">
import { nextTick } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import type { SectionRules } from "@/api/client";
import ChoiceField from "@/parts/ChoiceField.vue";

/** Rules of the gate that are different in sections of a site; of several sections that fit a page the narrowest counts. */
const props = defineProps<{ holds: string[]; counts: string[] }>();
const options = (values: string[]) => values.map((value) => ({ label: value, value }));
const sections = defineModel<SectionRules[]>({ required: true });

function change(at: number, name: keyof SectionRules, value: string | undefined | null) {
  sections.value = sections.value.map((one, place) =>
    place === at ? { ...one, [name]: value || undefined } : one,
  ) as SectionRules[];
}
async function add() {
  sections.value = [...sections.value, { pattern: "/" }];
  await nextTick();
  document.getElementById(`gp-${sections.value.length - 1}`)?.focus();
}
async function remove(at: number) {
  sections.value = sections.value.filter((_, place) => place !== at);
  await nextTick();
  document.getElementById("gp-add")?.focus();
}
</script>

<template>
  <fieldset class="boxed stack tight">
    <legend>Different in sections of the site</legend>
    <p v-if="!sections.length" class="soft small">The same rules hold everywhere.</p>
    <div
      v-for="(section, at) in sections"
      :key="at"
      class="row"
      role="group"
      :aria-label="`Section ${at + 1}, ${section.pattern}`"
    >
      <div class="field">
        <label :for="`gp-${at}`">Section {{ at + 1 }}: path, * for anything</label
        ><InputText
          :id="`gp-${at}`"
          :model-value="section.pattern"
          placeholder="/news/*"
          @update:model-value="(value) => change(at, 'pattern', value)"
        />
      </div>
      <ChoiceField
        :model-value="section.holds"
        :label="`Section ${at + 1}: holds from`"
        :options="options(props.holds)"
        all="as everywhere"
        @update:model-value="(value) => change(at, 'holds', value)"
      />
      <ChoiceField
        :model-value="section.counts"
        :label="`Section ${at + 1}: what counts`"
        :options="options(props.counts)"
        all="as everywhere"
        @update:model-value="(value) => change(at, 'counts', value)"
      />
      <Button :label="`Remove section ${at + 1}`" variant="text" size="small" @click="remove(at)" />
    </div>
    <div>
      <Button id="gp-add" label="Add a section" variant="outlined" size="small" @click="add" />
    </div>
  </fieldset>
</template>

<style scoped>
.row {
  align-items: end;
}
</style>
