<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch, type Component } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, uniqueKey, type FindingInFull } from "@/api/client";
import { inDays, says, stateName } from "@/format";
import AddressMend from "@/mends/AddressMend.vue";
import ContrastMend from "@/mends/ContrastMend.vue";
import HeadingMend from "@/mends/HeadingMend.vue";
import LinkMend from "@/mends/LinkMend.vue";
import PictureMend from "@/mends/PictureMend.vue";
import SpellingMend from "@/mends/SpellingMend.vue";
import TableMend from "@/mends/TableMend.vue";
import WordsMend from "@/mends/WordsMend.vue";
import { markupOf, type Proposal } from "@/mends/proposal";
import MendLine from "@/parts/MendLine.vue";
import { session } from "@/session";
import { useDraft } from "@/use/drafts";
import { announce } from "@/use/announcements";

/** The right control for each kind of fault. What is chosen is kept as the fix's proposal, and can be copied as markup. */
const props = defineProps<{ finding: FindingInFull }>();
const cache = useQueryClient();
const draft = useDraft(`mend:${props.finding.check}:${props.finding.place_key}`);
const { data: fix } = useQuery({
  queryKey: ["fix", computed(() => props.finding.fix_id)],
  queryFn: () =>
    data(
      api.GET("/api/v1/fixes/{fix_id}", { params: { path: { fix_id: props.finding.fix_id! } } }),
    ),
  enabled: computed(() => props.finding.fix_id != null),
});
const read = (text: string) => (text ? (JSON.parse(text) as Proposal) : null);
const proposal = ref<Proposal | null>(read(draft.words.value));
watch(proposal, (now) => {
  draft.words.value = now ? JSON.stringify(now) : "";
});
const kept = computed(() => fix.value?.proposal as unknown as Proposal | null | undefined);

const control = computed<Component>(() => {
  const { check, facts, selector } = props.finding;
  if (Array.isArray(facts.proposals)) return ContrastMend;
  if (
    selector !== "html" &&
    check.startsWith("headings/") &&
    check !== "headings/styled-as-heading"
  )
    return HeadingMend;
  if (
    ["links/dead", "links/dead-anchor", "links/staging-address", "links/not-verifiable"].includes(
      check,
    )
  )
    return AddressMend;
  if (check.startsWith("links/") && !["links/acts-as-button", "links/only-colour"].includes(check))
    return LinkMend;
  if (check.startsWith("pictures/") && check !== "pictures/background") return PictureMend;
  if (check === "text/spelling") return SpellingMend;
  return check.startsWith("tables/") ? TableMend : WordsMend;
});
const markup = computed(() => (proposal.value ? markupOf(props.finding, proposal.value) : ""));
const copied = ref("");
async function copy() {
  try {
    await navigator.clipboard.writeText(markup.value);
    copied.value = "Copied.";
  } catch {
    copied.value = "The browser does not let pages copy here; mark the markup and copy it.";
  }
}

const mayKeep = computed(() =>
  fix.value ? fix.value.moves.includes("propose") : session.me?.role === "manager",
);
const keep = useMutation({
  mutationFn: async () => {
    const known =
      fix.value ??
      (
        await data(
          api.POST("/api/v1/sites/{slug}/fixes", {
            params: {
              path: { slug: props.finding.site },
              header: { "Idempotency-Key": uniqueKey() },
            },
            body: {
              causes: [props.finding.cause],
              findings: [],
              sweep: props.finding.sweep_id,
              owner: null,
              due_on: inDays(14),
              why: "",
            },
          }),
        )
      ).items[0]!;
    return data(
      api.POST("/api/v1/fixes/{fix_id}/moves", {
        params: {
          path: { fix_id: known.id },
          header: { "if-match": known.tag, "Idempotency-Key": uniqueKey() },
        },
        body: {
          move: "propose",
          why: "",
          links: [],
          proposal: proposal.value as unknown as Record<string, never>,
        },
      }),
    );
  },
  onSuccess: async (after) => {
    cache.setQueryData(["fix", after.id], after);
    draft.forget();
    announce(`Kept as the proposal of fix ${after.id}, ${after.owner ?? after.group ?? "nobody"}.`);
    await Promise.all(
      ["finding", "fixes", "causes", "desk"].map((key) =>
        cache.invalidateQueries({ queryKey: [key] }),
      ),
    );
  },
});
</script>

<template>
  <section class="card stack tight" aria-labelledby="mend-title">
    <h2 id="mend-title">How to mend it</h2>
    <ul class="mends">
      <li v-for="mend in finding.mends" :key="mend.says"><MendLine :mend="mend" /></li>
    </ul>
    <p v-if="kept" class="kept"><strong>Proposed already:</strong> {{ kept.says || kept.value }}</p>
    <component :is="control" v-model="proposal" :finding="finding" />
    <template v-if="proposal">
      <h3>As markup</h3>
      <pre class="code" tabindex="0" role="group" aria-label="The mend as markup">{{ markup }}</pre>
      <p v-if="draft.isKept" class="soft small">
        This was begun before and not saved; it stands here until you save it or empty it.
      </p>
    </template>
    <div class="row">
      <Button
        v-if="mayKeep"
        :label="fix ? 'Keep as the proposal' : 'Hand out with this proposal'"
        :disabled="!proposal"
        :loading="keep.isPending.value"
        @click="keep.mutate()"
      />
      <Button label="Copy the markup" variant="outlined" :disabled="!proposal" @click="copy" />
      <span role="status" class="soft">{{ copied }}</span>
    </div>
    <p v-if="fix" class="soft small">
      <RouterLink :to="{ name: 'fix', params: { site: finding.site, fix: fix.id } }"
        >Fix {{ fix.id }}</RouterLink
      >: {{ fix.owner ?? fix.group ?? "nobody" }}, {{ stateName(fix.state, fix.reopened_after) }}
    </p>
    <p v-else-if="!mayKeep" class="soft small">
      Nobody has this to mend yet; a manager hands it out. What you write is stored in this browser.
    </p>
    <Message v-if="keep.error.value" severity="error" role="alert">{{
      says(keep.error.value)
    }}</Message>
  </section>
</template>

<style scoped>
.mends {
  margin: 0;
  padding-left: 20px;
}
.kept {
  border-left: 4px solid var(--good);
  padding-left: 12px;
  margin: 0;
}
</style>
