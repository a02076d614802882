<script setup lang="ts">
import { ref, watch } from "vue";
import Textarea from "primevue/textarea";
import type { Finding } from "@/api/client";
import type { Proposal } from "@/mends/proposal";

/** Any other mend, in words; what the check proposes can be taken as it is. */
defineProps<{ finding: Finding }>();
const chosen = defineModel<Proposal | null>({ required: true });
const words = ref(chosen.value?.says ?? "");
let kept: Proposal | null = chosen.value;
watch(
  words,
  (now) => {
    const same = kept?.says === now.trim();
    chosen.value = now.trim() ? (same ? kept : { kind: "advice", says: now.trim() }) : null;
  },
  { flush: "sync" },
);
function take(mend: Record<string, string>) {
  kept = mend as unknown as Proposal;
  words.value = kept.says;
}
</script>

<template>
  <div class="stack tight">
    <div class="row">
      <button
        v-for="mend in finding.mends"
        :key="mend.says"
        type="button"
        class="bare"
        @click="take(mend)"
      >
        Take: {{ mend.says }}
      </button>
    </div>
    <div class="field">
      <label for="m-words">What is to be done</label
      ><Textarea id="m-words" v-model="words" rows="2" maxlength="2000" />
    </div>
  </div>
</template>
