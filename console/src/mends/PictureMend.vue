<script setup lang="ts">
import { useMutation, useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import Textarea from "primevue/textarea";
import { api, data, type FindingInFull } from "@/api/client";
import { count, says } from "@/format";
import { asks, type Proposal } from "@/mends/proposal";
import LibraryText from "@/mends/LibraryText.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { session } from "@/session";

/** A picture large, where it is used, the texts it has elsewhere; write its text, or mark it as decorative. */
const props = defineProps<{ finding: FindingInFull }>();
const chosen = defineModel<Proposal | null>({ required: true });
const MOST = 150;
const { data: view } = useQuery({
  queryKey: ["page-view", computed(() => [props.finding.reading_id, "pictures"])],
  queryFn: () =>
    data(
      api.GET("/api/v1/readings/{reading_id}/views/{name}", {
        params: { path: { reading_id: props.finding.reading_id, name: "pictures" } },
      }),
    ),
  staleTime: Infinity,
});
const own = computed(
  () =>
    view.value?.rows.find((row) => row.selector === props.finding.selector) as
      { hash: string | null; source: string; file: string; box: number[] | null } | undefined,
);
const key = computed(() => own.value?.hash ?? own.value?.source ?? "");
const { data: uses } = useQuery({
  queryKey: ["picture-uses", computed(() => [props.finding.sweep_id, key.value])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/picture-uses", {
        params: {
          path: { slug: props.finding.site },
          query: { sweep: props.finding.sweep_id, key: key.value },
        },
      }),
    ),
  enabled: computed(() => key.value !== ""),
});
const { data: proposed } = useQuery({
  queryKey: ["picture-texts", computed(() => props.finding.id)],
  queryFn: () =>
    data(
      api.GET("/api/v1/findings/{finding_id}/texts", {
        params: { path: { finding_id: props.finding.id }, query: { wait: 10 } },
      }),
    ),
  staleTime: 60_000,
});
const describe = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/findings/{finding_id}/descriptions", {
        params: { path: { finding_id: props.finding.id }, query: { wait: 25 } },
      }),
    ),
});
/** The description that the words were taken from, whatever became of them since. */
const taken = ref<number | undefined>(chosen.value?.description);
const take = (text: string, description?: number) => {
  taken.value = description;
  words.value = text;
};
const pages = computed(() => new Set((uses.value?.items ?? []).map((use) => use.path)).size);
const shown = computed(() =>
  props.finding.picture && (props.finding.box ?? props.finding.nearest_box)
    ? `/api/v1/findings/${props.finding.id}/picture`
    : "",
);
/** The mend that gives it a text, and the one that marks it as decorative, as the check has them. */
const writing = computed<Proposal>(
  () =>
    (props.finding.mends as unknown as Proposal[]).find(asks) ?? {
      kind: "set-attribute",
      attribute: "alt",
      says: "",
    },
);
const marking = computed<Proposal>(
  () =>
    (props.finding.mends as unknown as Proposal[]).find(
      (mend) => mend.kind === "mark-decorative",
    ) ?? { kind: "set-attribute", attribute: "alt", value: "", says: "" },
);
const decorative = ref(chosen.value?.value === "" || chosen.value?.kind === "mark-decorative");
const words = ref(chosen.value?.value ?? "");
watch(
  [words, decorative],
  () => {
    if (decorative.value)
      chosen.value = {
        ...marking.value,
        says: "Mark it as decorative: screen readers pass it over.",
      };
    else
      chosen.value = words.value.trim()
        ? {
            ...writing.value,
            ...(taken.value ? { description: taken.value } : {}),
            value: words.value.trim(),
            says: `Give it the text “${words.value.trim()}”.`,
          }
        : null;
  },
  { flush: "sync" },
);
</script>

<template>
  <div class="stack tight">
    <img v-if="shown" class="large" :src="shown" alt="The picture on its page" />
    <p>
      {{ own?.file || "The picture" }} is used in {{ count(uses?.items.length ?? 1, "place") }} on
      {{ count(Math.max(1, pages), "page") }}.
    </p>
    <div class="field">
      <label for="m-alt">Text that says what the picture means here</label
      ><Textarea id="m-alt" v-model="words" rows="2" :disabled="decorative" maxlength="1000" /><span
        class="soft small"
        :class="{ long: words.length > MOST }"
        >{{ words.length }} characters{{
          words.length > MOST ? `, more than ${MOST}: say the rest in the page's text` : ""
        }}</span
      >
    </div>
    <label class="row"
      ><input v-model="decorative" type="checkbox" /> It is decorative <TermHelp term="decorative"
    /></label>
    <template v-if="proposed?.items.length"
      ><h3>Texts that it might get</h3>
      <ul class="plain-list">
        <li v-for="one in proposed.items" :key="one.text">
          <button type="button" class="bare" :disabled="decorative" @click="take(one.text)">
            {{ one.text }}
          </button>
          <span class="soft small"> {{ one.comes_from }}</span>
        </li>
      </ul></template
    >
    <p v-else-if="proposed?.problem" class="soft small">No texts found: {{ proposed.problem }}</p>
    <LibraryText
      v-if="proposed?.library && session.me?.role !== 'reader'"
      :finding="finding.id"
      :text="decorative ? '' : words.trim()"
      :written="proposed.written"
    />
    <div v-if="proposed?.describer && session.me?.role !== 'reader'" class="stack tight">
      <div class="row">
        <Button
          label="Have it described"
          size="small"
          variant="outlined"
          :loading="describe.isPending.value"
          @click="describe.mutate()"
        />
        <span class="soft small"
          >Sends the picture and the text around it to your organisation's describer.</span
        >
      </div>
      <p v-if="describe.data.value?.text" role="status">
        <button
          type="button"
          class="bare"
          :disabled="decorative"
          @click="take(describe.data.value.text, describe.data.value.id)"
        >
          {{ describe.data.value.text }}
        </button>
        <strong class="small"> written by a program: check it before you take it</strong>
      </p>
      <Message
        v-if="describe.error.value ?? describe.data.value?.problem"
        severity="error"
        role="alert"
        >{{ describe.data.value?.problem || says(describe.error.value) }}</Message
      >
    </div>
  </div>
</template>

<style scoped>
/* Its height does not wait for the picture: nothing below moves when that comes. */
.large {
  width: 100%;
  height: 240px;
  border: 1px solid var(--line);
  border-radius: 8px;
  object-fit: contain;
}
.long {
  color: var(--barrier-ink);
}
</style>
