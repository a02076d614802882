<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import Textarea from "primevue/textarea";
import { api, data, type AskedQuestion, type FaultSeen } from "@/api/client";
import type { Environment } from "@/choices";
import { count, says, time } from "@/format";
import CrumbTrail from "@/parts/CrumbTrail.vue";
import FaultForm from "@/parts/FaultForm.vue";
import QuestionHelp from "@/parts/QuestionHelp.vue";
import ShownRows from "@/parts/ShownRows.vue";
import { ANSWER_LABELS } from "@/terms";
import { useAddress } from "@/use/address";
import { announce } from "@/use/announcements";
import { useKeys } from "@/use/keys";

/** One question at a time with what there is to see; the next follows. Of one page, or one question on all pages, or all. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const { text } = useAddress();
const environment = computed(() => (text("environment") ?? "live") as Environment);
const path = computed(() => text("path") ?? null);
const only = computed(() => text("only") ?? null);
const asked = ref<AskedQuestion | null>(null);
const left = ref<number | null>(null);
const faults = ref<FaultSeen[]>([]);
const isFault = ref(false);
const note = ref("");
const slug = computed(() => props.site);

const next = useMutation({
  mutationFn: (behind: AskedQuestion | null) =>
    data(
      api.POST("/api/v1/sites/{slug}/review/next", {
        params: { path: { slug: slug.value } },
        body: {
          environment: environment.value,
          path: path.value,
          question: only.value,
          behind_path: behind?.path ?? null,
          behind: behind?.question.key ?? null,
        },
      }),
    ),
  onSuccess: async (found) => {
    asked.value = found!.asked;
    left.value = found!.left;
    faults.value = [];
    isFault.value = false;
    note.value = "";
    await nextTick();
    document.querySelector<HTMLElement>("main h1")?.focus();
  },
});
watch([path, only, environment], () => next.mutate(null), { immediate: true });

const answer = useMutation({
  mutationFn: (given: "fine" | "fault" | "does-not-apply") =>
    data(
      api.POST("/api/v1/sites/{slug}/review/answers", {
        params: { path: { slug: slug.value } },
        body: {
          environment: environment.value,
          path: asked.value!.path,
          question: asked.value!.question.key,
          answer: given,
          note: note.value,
          faults: given === "fault" ? faults.value : [],
          shown_key: asked.value!.shown_key,
          instead_of: asked.value!.last?.id ?? null,
        },
      }),
    ),
  onSuccess: async (made) => {
    announce(`Answered: ${ANSWER_LABELS[made!.answer]}.`);
    await next.mutateAsync(null);
    for (const key of ["review", "findings", "causes", "readings"])
      void cache.invalidateQueries({ queryKey: [key] });
  },
});
const isBusy = computed(() => answer.isPending.value || next.isPending.value);
const wait = () => asked.value === null || isBusy.value;

async function begin(row: number | null) {
  if (wait()) return;
  isFault.value = true;
  const empty = faults.value.find((one) => !one.says && one.row === null);
  if (row !== null && faults.value.some((one) => one.row === row)) {
    faults.value = faults.value.filter((one) => one.row !== row);
    return;
  }
  if (empty) empty.row = row;
  else faults.value.push({ says: "", weight: "obstacle", row });
  await nextTick();
  const fields = document.querySelectorAll<HTMLElement>(".faults textarea");
  fields[fields.length - 1]?.focus();
}
const marked = computed(() =>
  faults.value.flatMap((one) => (one.row === null || one.row === undefined ? [] : [one.row])),
);
useKeys([
  { keys: "1", says: "answer: fine", act: () => wait() || answer.mutate("fine") },
  { keys: "2", says: "answer: a fault", act: () => void begin(null) },
  {
    keys: "3",
    says: "answer: does not apply",
    act: () => wait() || answer.mutate("does-not-apply"),
  },
  { keys: "n", says: "pass this question over", act: () => wait() || next.mutate(asked.value) },
]);
</script>

<template>
  <div class="stack">
    <CrumbTrail
      :site="site"
      :steps="[
        { says: 'All questions', to: { name: 'review', params: { site }, query: { environment } } },
        { says: asked?.path ?? (asked ? 'The site' : 'Question') },
      ]"
    />
    <Message v-if="next.error.value" severity="error" role="alert">{{
      says(next.error.value)
    }}</Message>
    <template v-if="asked">
      <div>
        <h1 tabindex="-1">{{ asked.question.asks }}</h1>
        <p class="row">
          <RouterLink
            v-if="asked.path"
            :to="{ name: 'page', params: { site }, query: { path: asked.path, environment } }"
            >{{ asked.title || asked.path }}</RouterLink><span v-else>The site as a whole</span
          ><span class="soft">{{ count(left ?? 0, "question") }} left</span>
        </p>
      </div>
      <Message v-if="asked.state === 'lapsed' && asked.last" severity="warn">
        {{ asked.last.answered_by }} answered “{{ ANSWER_LABELS[asked.last.answer] }}” on
        {{ time(asked.last.answered_at) }}. Since then
        <template v-if="asked.changed?.more.length"
          >new: {{ asked.changed.more.join("; ") }}. </template
        ><template v-if="asked.changed?.less.length"
          >gone: {{ asked.changed.less.join("; ") }}.</template
        ><template v-if="!asked.changed">it has become old.</template>
      </Message>
      <div class="two">
        <section class="card" aria-labelledby="to-see">
          <h2 id="to-see">What there is to see</h2>
          <p v-if="asked.question.evidence === 'enlarged'">
            <RouterLink
              :to="{
                name: 'page',
                params: { site },
                query: { path: asked.path, environment, as: 'low-vision' },
              }"
              >The page as people with low vision see it</RouterLink
            >, or the page itself in your browser at 200 % and 400 %.
          </p>
          <ShownRows
            v-else-if="asked.rows.length"
            :rows="asked.rows"
            :kind="asked.question.evidence"
            :reading="asked.reading"
            :may-mark="true"
            :marked="marked"
            @mark="begin"
          />
          <p v-else class="soft">Nothing of the kind was found. Look for it yourself.</p>
        </section>
        <section class="card stack tight" aria-labelledby="your-answer">
          <h2 id="your-answer">Your answer</h2>
          <div class="row answers">
            <Button label="Fine" :disabled="isBusy" @click="answer.mutate('fine')" />
            <Button
              label="A fault"
              severity="secondary"
              :disabled="isBusy"
              :aria-expanded="isFault"
              @click="begin(null)"
            />
            <Button
              label="Does not apply"
              severity="secondary"
              :disabled="isBusy"
              @click="answer.mutate('does-not-apply')"
            />
            <Button label="Later" variant="text" :disabled="isBusy" @click="next.mutate(asked)" />
          </div>
          <FaultForm
            v-if="isFault"
            v-model="faults"
            :rows="asked.rows"
            :busy="isBusy"
            @more="begin(null)"
            @done="answer.mutate('fault')"
            @stop="
              isFault = false;
              faults = [];
            "
          />
          <div class="field">
            <label for="q-note">Note (what you looked at, or why)</label
            ><Textarea id="q-note" v-model="note" rows="2" maxlength="4000" />
          </div>
          <Message v-if="answer.error.value" severity="error" role="alert">{{
            says(answer.error.value)
          }}</Message>
          <QuestionHelp :question="asked.question" />
        </section>
      </div>
    </template>
    <div v-else-if="next.isSuccess.value" class="card">
      <h1 tabindex="-1">Nothing is left here</h1>
      <p>
        Everything is answered, or somebody else is looking at the rest just now.
        <RouterLink :to="{ name: 'review', params: { site }, query: { environment } }"
          >To the review</RouterLink
        >
      </p>
    </div>
    <p v-else-if="!next.error.value" role="status" class="soft">Loading the question …</p>
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(280px, 2fr);
  gap: 16px;
  align-items: start;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
h1 {
  margin-bottom: 8px;
}
.answers {
  gap: 8px;
}
:deep(textarea) {
  width: 100%;
}
</style>
