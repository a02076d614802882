<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed, ref, watch, type Component } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import Message from "primevue/message";
import { api, data, uniqueKey, type Correction, type FindingInFull } from "@/api/client";
import { count, inDays, says, stateName } from "@/format";
import AddressMend from "@/mends/AddressMend.vue";
import ContrastMend from "@/mends/ContrastMend.vue";
import HeadingMend from "@/mends/HeadingMend.vue";
import LinkMend from "@/mends/LinkMend.vue";
import MainHeadingMend from "@/mends/MainHeadingMend.vue";
import MendEffect from "@/mends/MendEffect.vue";
import PictureMend from "@/mends/PictureMend.vue";
import SpellingMend from "@/mends/SpellingMend.vue";
import TableMend from "@/mends/TableMend.vue";
import WordsMend from "@/mends/WordsMend.vue";
import AlikePlaces from "@/mends/AlikePlaces.vue";
import { canBeCarriedOut, mendOf, type Proposal } from "@/mends/proposal";
import MendLine from "@/parts/MendLine.vue";
import { session } from "@/session";
import { useDraft } from "@/use/drafts";
import { announce } from "@/use/announcements";
import { useCorrections } from "@/use/corrections";
import { useKeys } from "@/use/keys";

/** The right control for each kind of fault. What is chosen is drafted as a correction of the page's source; or it is kept as the fix's proposal, or copied as markup. */
const props = defineProps<{ finding: FindingInFull }>();
const emit = defineEmits<{ drafted: [] }>();
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
  if (check === "headings/no-level-1") return MainHeadingMend;
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
const markup = ref("");
const copied = ref("");
async function copy() {
  try {
    await navigator.clipboard.writeText(markup.value);
    copied.value = "Copied.";
  } catch {
    copied.value = "The browser does not let pages copy here; mark the markup and copy it.";
  }
}

const { draft: draftIt, again } = useCorrections();
const everywhere = ref(false);
const but = ref<number[]>([]);
const refused = ref<Correction | null>(null);
const mayApply = computed(
  () => session.me?.role !== "reader" && proposal.value && canBeCarriedOut(proposal.value),
);
const told = (first: Correction, many: number) => {
  if (first.state !== "drafted") {
    refused.value = first;
    return;
  }
  refused.value = null;
  draft.forget();
  const rest = many > 1 ? ` ${count(many - 1, "other place")} being drafted.` : "";
  announce(`Drafted: ${first.says}${rest}`);
  emit("drafted");
};
const apply = useMutation({
  mutationFn: () =>
    draftIt(props.finding.site, {
      finding: props.finding.id,
      mend: mendOf(proposal.value!),
      description: proposal.value!.description,
      everywhere: everywhere.value,
      but: everywhere.value ? but.value : [],
    }),
  onSuccess: ({ first, ids }) => told(first, ids.length),
});
const insist = useMutation({
  mutationFn: (how: { insist?: true; as_references?: true }) => again(refused.value!, how),
  onSuccess: (first) => told(first, 1),
});
const start = () => {
  if (mayApply.value && !apply.isPending.value) apply.mutate();
};
useKeys([
  { keys: "Control+Enter", says: "apply the mend", act: start },
  {
    keys: "m",
    says: "to the control of the mend",
    act: () =>
      document
        .querySelector<HTMLElement>("#bench input:checked, #bench textarea, #bench input")
        ?.focus(),
  },
]);

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
    <div id="bench"><component :is="control" v-model="proposal" :finding="finding" /></div>
    <template v-if="proposal">
      <MendEffect
        v-model:markup="markup"
        :finding="finding"
        :proposal="proposal"
        :carried-out="Boolean(mayApply)"
      />
      <p v-if="draft.isKept" class="soft small">
        This was begun before and not saved; it stands here until you save it or empty it.
      </p>
    </template>
    <AlikePlaces
      v-if="mayApply"
      v-model:everywhere="everywhere"
      v-model:but="but"
      :finding="finding"
    />
    <Message v-if="refused" severity="error" role="alert">
      {{
        refused.state === "waiting"
          ? "The page is still being read; look again soon."
          : refused.problem
      }}
      <span class="row">
        <Button
          v-if="refused.may_insist"
          label="Draft it all the same"
          size="small"
          variant="outlined"
          :loading="insist.isPending.value"
          @click="insist.mutate({ insist: true })"
        />
        <Button
          v-if="refused.may_reference"
          label="Write references"
          size="small"
          variant="outlined"
          :loading="insist.isPending.value"
          @click="insist.mutate({ as_references: true })"
        />
      </span>
    </Message>
    <Message v-if="apply.error.value ?? insist.error.value" severity="error" role="alert">{{
      says(apply.error.value ?? insist.error.value)
    }}</Message>
    <div v-if="session.me?.role !== 'reader'" class="row">
      <Button
        :label="apply.isPending.value ? 'Reading the page with it …' : 'Apply'"
        :disabled="!mayApply"
        :loading="apply.isPending.value"
        aria-keyshortcuts="Control+Enter"
        @click="start"
      />
      <span class="soft small">Drafts it in the page's source; nothing is published yet.</span>
    </div>
    <div class="row">
      <Button
        v-if="mayKeep"
        variant="outlined"
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
