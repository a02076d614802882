<script setup lang="ts">
import { computed } from "vue";
import Button from "primevue/button";
import type { Finding } from "@/api/client";
import WordsMend from "@/mends/WordsMend.vue";
import type { Proposal } from "@/mends/proposal";
import WordSuggestions from "@/parts/WordSuggestions.vue";
import { session } from "@/session";
import { useSiteWords } from "@/use/words";

/** A word in no dictionary: what may have been meant, or that it is one of the site's own. */
const props = defineProps<{ finding: Finding & { site?: string } }>();
const chosen = defineModel<Proposal | null>({ required: true });
const word = computed(() => String(props.finding.facts.word));
const { add } = useSiteWords(() => props.finding.site!);
const propose = (meant: string) => {
  const known = (props.finding.mends as unknown as Proposal[]).find(
    (mend) => mend.kind === "replace-word",
  );
  chosen.value = {
    ...(known ?? { kind: "replace-word", to: word.value }),
    value: meant,
    says: `Write “${meant}” in place of “${word.value}”.`,
  };
};
</script>

<template>
  <div class="stack tight">
    <WordSuggestions
      :word="word"
      :language="String(finding.facts.language)"
      choosable
      @choose="propose"
    />
    <div v-if="session.me?.role !== 'reader' && finding.site" class="row">
      <Button
        :label="`“${word}” is right: add it to the site’s words`"
        variant="outlined"
        size="small"
        :loading="add.isPending.value"
        @click="add.mutate([word])"
      />
    </div>
    <WordsMend :key="chosen?.says ?? ''" v-model="chosen" :finding="finding" />
  </div>
</template>
