<script setup lang="ts">
import { computed, ref, watch } from "vue";
import InputText from "primevue/inputtext";
import Textarea from "primevue/textarea";
import type { Finding } from "@/api/client";
import { asks, canBeCarriedOut, type Proposal } from "@/mends/proposal";

/** Any other mend: one that the check proposes, with what a person writes in it; or advice in words. */
const props = defineProps<{ finding: Finding }>();
const chosen = defineModel<Proposal | null>({ required: true });
const offered = computed(() =>
  (props.finding.mends as unknown as Proposal[]).filter(canBeCarriedOut),
);
const same = (one: Proposal, other: Proposal | null) =>
  one.kind === other?.kind && one.attribute === other.attribute && one.to === other.to;
const at = ref(offered.value.findIndex((one) => same(one, chosen.value)));
const taken = computed(() => offered.value[at.value]);
const value = ref(chosen.value?.value ?? "");
const words = ref(chosen.value?.kind === "advice" ? chosen.value.says : "");
watch(
  [at, value, words],
  () => {
    const mend = taken.value;
    if (!mend)
      chosen.value = words.value.trim() ? { kind: "advice", says: words.value.trim() } : null;
    else if (!asks(mend)) chosen.value = { ...mend };
    else chosen.value = value.value.trim() ? { ...mend, value: value.value.trim() } : null;
  },
  { flush: "sync" },
);
</script>

<template>
  <div class="stack tight">
    <fieldset v-if="offered.length" class="choices stack tight">
      <legend>How</legend>
      <label v-for="(mend, number) in offered" :key="mend.says" class="row"
        ><input
          type="radio"
          name="mend"
          :value="number"
          :checked="at === number"
          @change="at = number"
        />
        {{ mend.says }}</label
      >
      <label class="row"
        ><input type="radio" name="mend" :value="-1" :checked="at < 0" @change="at = -1" /> In
        words, for whoever mends it elsewhere</label
      >
    </fieldset>
    <div v-if="taken && asks(taken)" class="field">
      <label for="m-value">What is to stand there</label
      ><InputText id="m-value" v-model="value" maxlength="1000" />
    </div>
    <div v-if="!taken" class="field">
      <label for="m-words">What is to be done</label
      ><Textarea id="m-words" v-model="words" rows="2" maxlength="2000" />
    </div>
  </div>
</template>
