<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import Select from "primevue/select";
import { api, data, ownerOf, uniqueKey, type FindingInFull } from "@/api/client";
import { count, day, inDays, says } from "@/format";
import OwnerPick from "@/parts/OwnerPick.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { session } from "@/session";
import { useDraft } from "@/use/drafts";
import { announce } from "@/use/announcements";

/** What a person can decide about a finding: hand it out, answer it, waive it. */
const props = defineProps<{ finding: FindingInFull }>();
const cache = useQueryClient();
const said = ref("");
const fix = ref<number | null>(null);
async function after(words: string, undo?: () => Promise<unknown>) {
  said.value = words;
  announce(words, undo ? () => undo().then(() => cache.invalidateQueries()) : undefined);
  await Promise.all(
    ["finding", "findings", "causes", "fixes", "site"].map((key) =>
      cache.invalidateQueries({ queryKey: [key] }),
    ),
  );
  document.getElementById("d-said")?.focus();
}

const owner = ref("area");
const handOut = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/fixes", {
        params: { path: { slug: props.finding.site }, header: { "Idempotency-Key": uniqueKey() } },
        body: {
          causes: [props.finding.cause],
          findings: [],
          sweep: props.finding.sweep_id,
          owner: ownerOf(owner.value),
          due_on: inDays(14),
          why: "",
        },
      }),
    ),
  onSuccess: (made) => {
    fix.value = made.items[0]!.id;
    return after(`Handed out to ${made.items[0]!.owner ?? made.items[0]!.group ?? "nobody"}.`);
  },
});
const { words: note, forget: forgetNote } = useDraft(`judge:${props.finding.place_key}`);
const judge = useMutation({
  mutationFn: (answer: "fault" | "fine") =>
    data(
      api.POST("/api/v1/findings/{finding_id}/judgement", {
        params: { path: { finding_id: props.finding.id } },
        body: { answer, note: note.value },
      }),
    ),
  onSuccess: (made) => {
    forgetNote();
    return after(
      made.answer === "fine"
        ? "Judged fine, until the place changes."
        : "Judged a fault, until the place changes.",
      () =>
        api.DELETE("/api/v1/sites/{slug}/judgements/{judgement_id}", {
          params: { path: { slug: props.finding.site, judgement_id: made.id } },
        }),
    );
  },
});
const scope = ref<"place" | "page" | "cause" | "check">("place");
const scopes = [
  { label: "This place", value: "place" },
  { label: "This check on this page", value: "page" },
  { label: "Wherever this occurs", value: "cause" },
  { label: "This check on the whole site", value: "check" },
];
const { words: reason, forget: forgetReason } = useDraft(`waive:${props.finding.place_key}`);
const until = ref(inDays(90));
const waive = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/findings/{finding_id}/waiver", {
        params: { path: { finding_id: props.finding.id } },
        body: { scope: scope.value, reason: reason.value, ends_on: until.value },
      }),
    ),
  onSuccess: (made) => {
    forgetReason();
    return after(
      `Waived until ${day(made.ends_on)}; ${count(made.covers, "finding")} covered.`,
      () =>
        api.DELETE("/api/v1/sites/{slug}/waivers/{waiver_id}", {
          params: { path: { slug: props.finding.site, waiver_id: made.id } },
        }),
    );
  },
});
const isDoubtful = computed(() => props.finding.outcome === "cantTell");
const problem = computed(() => handOut.error.value ?? judge.error.value ?? waive.error.value);
</script>

<template>
  <section
    v-if="session.me && session.me.role !== 'reader'"
    class="card stack tight"
    aria-labelledby="decide-title"
  >
    <div class="titled">
      <h2 id="decide-title">Decide</h2>
      <TermHelp term="waiver" />
    </div>
    <p v-if="finding.answer">
      A person judged that this is {{ finding.answer === "fine" ? "fine" : "a fault" }}.
    </p>
    <p v-if="finding.waiver_id">
      A waiver covers this; it counts no more until the waiver is over.
    </p>
    <p id="d-said" role="status" tabindex="-1">
      {{ said
      }}<template v-if="fix">
        <RouterLink :to="{ name: 'fix', params: { site: finding.site, fix } }"
          >See the fix</RouterLink
        ></template
      >
    </p>
    <Message v-if="problem" severity="error" role="alert">{{ says(problem) }}</Message>
    <form v-if="isDoubtful" class="fields" aria-label="Judge" @submit.prevent>
      <div class="field grow">
        <label for="d-note">Why</label
        ><InputText id="d-note" v-model="note" required minlength="3" maxlength="4000" />
      </div>
      <Button
        label="It is fine"
        variant="outlined"
        :disabled="note.trim().length < 3"
        @click="judge.mutate('fine')"
      />
      <Button
        label="It is a fault"
        variant="outlined"
        :disabled="note.trim().length < 3"
        @click="judge.mutate('fault')"
      />
    </form>
    <form
      v-if="session.me.role === 'manager' && !finding.fix_id"
      class="fields"
      aria-label="Hand out"
      @submit.prevent="handOut.mutate()"
    >
      <OwnerPick id="d-owner" v-model="owner" label="Hand out to" by-area />
      <Button type="submit" label="Hand out" :loading="handOut.isPending.value" />
    </form>
    <details :open="reason !== ''">
      <summary>Waive it</summary>
      <form class="stack tight" aria-label="Waive" @submit.prevent="waive.mutate()">
        <div class="field">
          <span id="d-scope">How far</span
          ><Select
            v-model="scope"
            aria-labelledby="d-scope"
            :options="scopes"
            option-label="label"
            option-value="value"
          />
        </div>
        <div class="field">
          <label for="d-reason">Reason</label
          ><InputText id="d-reason" v-model="reason" required minlength="3" maxlength="4000" />
        </div>
        <div class="field">
          <label for="d-until">Last day</label
          ><InputText id="d-until" v-model="until" type="date" required />
        </div>
        <div>
          <Button type="submit" label="Waive" variant="outlined" :loading="waive.isPending.value" />
        </div>
      </form>
    </details>
  </section>
</template>
