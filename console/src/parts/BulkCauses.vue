<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, ownerOf, uniqueKey, type Cause } from "@/api/client";
import { count, inDays, says } from "@/format";
import ChoiceField from "@/parts/ChoiceField.vue";
import OwnerPick from "@/parts/OwnerPick.vue";
import { useDraft } from "@/use/drafts";
import { announce } from "@/use/announcements";

/** What is done with several causes at once: handed out, waived, or judged. */
const props = defineProps<{ site: string; chosen: Cause[] }>();
const emit = defineEmits<{ done: [says: string] }>();
const cache = useQueryClient();
const what = ref<string | null>("hand-out");
const ways = [
  { label: "Hand out", value: "hand-out" },
  { label: "Waive", value: "waive" },
  { label: "Judge: is fine", value: "fine" },
  { label: "Judge: is a fault", value: "fault" },
];
const owner = ref("area");
const due = ref(inDays(14));
const until = ref(inDays(90));
const { words, forget } = useDraft(`bulk-causes:${props.site}`);
const needsWords = computed(() => what.value !== "hand-out");
const label = computed(() => {
  const verb = {
    "hand-out": "Hand out",
    waive: "Waive",
    fine: "Judge fine:",
    fault: "Judge a fault:",
  }[what.value ?? "hand-out"];
  return props.chosen.length
    ? `${verb} ${count(props.chosen.length, "cause")}`
    : verb!.replace(":", "");
});
const path = computed(() => ({ slug: props.site }));

const act = useMutation({
  mutationFn: async () => {
    const causes = props.chosen.map((cause) => cause.key);
    const sweep = props.chosen[0]!.sweep_id;
    if (what.value === "hand-out") {
      const made = await data(
        api.POST("/api/v1/sites/{slug}/fixes", {
          params: { path: path.value, header: { "Idempotency-Key": uniqueKey() } },
          body: {
            causes,
            findings: [],
            sweep,
            owner: ownerOf(owner.value),
            due_on: due.value || null,
            why: words.value,
          },
        }),
      );
      const owners = [...new Set(made.items.map((fix) => fix.owner ?? fix.group ?? "nobody"))];
      return `${count(made.items.length, "cause")} handed out to ${owners.join(", ")}.`;
    }
    const answer = what.value === "waive" ? null : (what.value as "fine" | "fault");
    const made = await data(
      api.POST("/api/v1/sites/{slug}/decisions", {
        params: { path: path.value },
        body: { causes, sweep, reason: words.value, answer, ends_on: answer ? null : until.value },
      }),
    );
    const slug = props.site;
    const done = answer
      ? `${count(made.judgements.length, "place")} judged: ${answer === "fine" ? "is fine" : "is a fault"}.`
      : `${count(made.waivers.length, "cause")} waived.`;
    announce(done, () =>
      Promise.all([
        ...made.waivers.map((id) =>
          api.DELETE("/api/v1/sites/{slug}/waivers/{waiver_id}", {
            params: { path: { slug, waiver_id: id } },
          }),
        ),
        ...made.judgements.map((id) =>
          api.DELETE("/api/v1/sites/{slug}/judgements/{judgement_id}", {
            params: { path: { slug, judgement_id: id } },
          }),
        ),
      ]).then(() => cache.invalidateQueries()),
    );
    return done;
  },
  onSuccess: async (done) => {
    forget();
    emit("done", done);
    await cache.invalidateQueries();
    await nextTick();
    document.getElementById("handed")?.focus();
  },
});
</script>

<template>
  <form
    id="with-chosen"
    class="card fields"
    aria-label="With what is chosen"
    @submit.prevent="act.mutate()"
  >
    <ChoiceField v-model="what" label="What to do" :options="ways" :all="null" />
    <OwnerPick
      v-if="what === 'hand-out'"
      id="c-owner"
      v-model="owner"
      label="Hand out to"
      by-area
    />
    <div v-if="what === 'hand-out'" class="field">
      <label for="c-due">By</label><InputText id="c-due" v-model="due" type="date" />
    </div>
    <div v-if="what === 'waive'" class="field">
      <label for="c-until">Last day</label
      ><InputText id="c-until" v-model="until" type="date" required />
    </div>
    <div class="field grow">
      <label for="c-why">{{
        what === "hand-out" ? "Note" : what === "waive" ? "Reason" : "Why"
      }}</label><InputText
        id="c-why"
        v-model="words"
        maxlength="4000"
        :required="needsWords"
        :minlength="needsWords ? 3 : undefined"
      />
    </div>
    <Button
      type="submit"
      :label="label"
      :disabled="!chosen.length"
      :loading="act.isPending.value"
    />
    <Message v-if="act.error.value" severity="error" role="alert">{{
      says(act.error.value)
    }}</Message>
  </form>
</template>
