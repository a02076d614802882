<script setup lang="ts">
import { computed, watch } from "vue";
import { says } from "@/format";
import type { FindingInFull } from "@/api/client";
import { markupOf, mendOf, type Proposal } from "@/mends/proposal";
import TriedLines from "@/mends/TriedLines.vue";
import { useTried } from "@/use/tried";

/** What a chosen mend would write, and what would be found then; before it is drafted. */
const props = defineProps<{ finding: FindingInFull; proposal: Proposal; carriedOut: boolean }>();
const markup = defineModel<string>("markup", { required: true });
const { data: met, error } = useTried(
  () => props.finding.id,
  () => (props.carriedOut ? { mend: mendOf(props.proposal) } : undefined),
);
const written = computed(
  () => (props.carriedOut && met.value?.markup) || markupOf(props.finding, props.proposal),
);
watch(written, (now) => (markup.value = now), { immediate: true });
</script>

<template>
  <div class="stack tight">
    <h3>As markup</h3>
    <pre class="code" tabindex="0" role="group" aria-label="The mend as markup">{{ written }}</pre>
    <p v-if="carriedOut && error" class="soft small">{{ says(error) }}</p>
    <TriedLines v-else-if="carriedOut && met" :met="met" />
  </div>
</template>

<style scoped>
.code {
  max-height: 16em;
  overflow: auto;
}
</style>
