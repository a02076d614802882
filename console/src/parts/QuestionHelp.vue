<script setup lang="ts">
import type { AskedQuestion } from "@/api/client";

/** Why a question is asked, and when the answer is which. */
defineProps<{ question: AskedQuestion["question"] }>();
</script>

<template>
  <div class="stack tight help">
    <p>{{ question.why }}</p>
    <dl>
      <dt>Fine</dt>
      <dd>{{ question.fine }}</dd>
      <dt>A fault</dt>
      <dd>{{ question.fault }}</dd>
      <dt>Does not apply</dt>
      <dd>{{ question.does_not_apply }}</dd>
    </dl>
    <p v-if="question.criteria.length" class="soft small">
      WCAG 2.2: {{ question.criteria.join(", ") }}
    </p>
  </div>
</template>

<style scoped>
.help {
  border-top: 1px solid var(--line);
  padding-top: 10px;
}
p,
dl {
  margin: 0;
}
dt {
  font-weight: 600;
  margin-top: 6px;
}
dd {
  margin: 0;
}
</style>
