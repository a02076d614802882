<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import Button from "primevue/button";
import { api, data } from "@/api/client";
import type { Environment } from "@/choices";
import { time } from "@/format";
import { session } from "@/session";
import { ANSWER_LABELS } from "@/terms";
import { announce } from "@/use/announcements";

/** Who answered what, when: those in force first seen, the newest above. */
const props = defineProps<{ site: string; environment: Environment }>();
const cache = useQueryClient();
const { data: found } = useQuery({
  queryKey: ["review", "answers", computed(() => [props.site, props.environment])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/review/answers", {
        params: {
          path: { slug: props.site },
          query: { environment: props.environment, limit: 50 },
        },
      }),
    ),
});
const answers = computed(() => found.value?.items ?? []);
const back = useMutation({
  mutationFn: (answer: number) =>
    data(
      api.DELETE("/api/v1/sites/{slug}/review/answers/{answer_id}", {
        params: {
          path: { slug: props.site, answer_id: answer },
          query: { environment: props.environment },
        },
      }),
    ),
  onSuccess: () => {
    announce("The answer is taken back; its question is open again.");
    return Promise.all(
      ["review", "findings", "causes"].map((key) => cache.invalidateQueries({ queryKey: [key] })),
    );
  },
});
</script>

<template>
  <section v-if="answers.length" class="card" aria-labelledby="of-answers">
    <h2 id="of-answers">Answers</h2>
    <ul class="plain-list">
      <li v-for="one in answers" :key="one.id">
        <div>
          <strong>{{ ANSWER_LABELS[one.answer] }}</strong><template v-if="one.ended_at">
            (no longer: {{ one.ended_by }})</template
          ><template v-else-if="one.lapsed_at"> (lapsed {{ time(one.lapsed_at) }})</template>:
          {{ one.question }}, {{ one.path ?? "the site" }}
          <p v-for="(fault, at) in one.faults" :key="at" class="small">{{ fault.says }}</p>
          <p class="soft small">
            {{ one.answered_by }}, {{ time(one.answered_at)
            }}<template v-if="one.note">: {{ one.note }}</template>
          </p>
        </div>
        <Button
          v-if="!one.ended_at && session.me?.role !== 'reader'"
          label="Take back"
          :aria-label="`Take back the answer to ${one.question}, ${one.path ?? 'the site'}`"
          size="small"
          variant="text"
          @click="back.mutate(one.id)"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 4px 16px;
  padding: 8px 0;
}
li + li {
  border-top: 1px solid var(--line);
}
p {
  margin: 2px 0 0;
}
</style>
