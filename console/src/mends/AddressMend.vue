<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed, ref, watch } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { api, data, type FindingInFull } from "@/api/client";
import { LINK_STATES } from "@/choices";
import type { Proposal } from "@/mends/proposal";
import { usePageView } from "@/use/pageView";

/** Another address for a link that leads nowhere: written, or taken from what the same words lead to elsewhere on the site. */
const props = defineProps<{ finding: FindingInFull }>();
const chosen = defineModel<Proposal | null>({ required: true });
const { data: rows } = usePageView(() => props.finding.reading_id, "links");
const link = computed(
  () =>
    rows.value?.rows.find((row) => row.selector === props.finding.selector) as
      { name: string; target: string; address: string } | undefined,
);
const now = computed(() => link.value?.target ?? String(props.finding.facts.target ?? ""));
const { data: alike } = useQuery({
  queryKey: [
    "links",
    "alike",
    computed(() => [props.finding.site, props.finding.environment, link.value?.name]),
  ],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/links", {
        params: {
          path: { slug: props.finding.site },
          query: {
            text: link.value!.name,
            state: "works",
            environment: props.finding.environment as "live" | "staging",
          },
        },
      }),
    ),
  enabled: computed(() => Boolean(link.value?.name)),
});
const offered = computed(() => {
  const ofMends = props.finding.mends.flatMap((mend) =>
    mend.attribute === "href" && mend.value ? [mend.value] : [],
  );
  const elsewhere = (alike.value?.items ?? [])
    .map((one) => one.address)
    .filter((one) => one && one !== link.value?.address);
  return [...new Set([...ofMends, ...elsewhere])].slice(0, 6);
});
const state = computed(
  () => LINK_STATES.find((one) => one.value === props.finding.facts.state)?.label ?? "",
);
const address = ref(chosen.value?.value ?? "");
watch(
  address,
  (written) => {
    chosen.value = written.trim()
      ? {
          kind: "set-attribute",
          attribute: "href",
          value: written.trim(),
          says: `Let the link lead to ${written.trim()}.`,
        }
      : null;
  },
  { flush: "sync" },
);
</script>

<template>
  <div class="stack tight">
    <p>
      “{{ link?.name || "No text" }}” leads to <code>{{ now || "nothing" }}</code><template
        v-if="state && finding.check !== 'links/dead-anchor'"
      >
        ({{ state }})</template
      >.
    </p>
    <div class="field">
      <label for="m-address">Where it is to lead</label
      ><InputText
        id="m-address"
        v-model="address"
        maxlength="2000"
        placeholder="/page/ or https://…"
        autocomplete="off"
        spellcheck="false"
      />
    </div>
    <template v-if="offered.length"
      ><h3>Addresses that work</h3>
      <div class="row tight">
        <Button
          v-for="one in offered"
          :key="one"
          :label="one"
          size="small"
          variant="outlined"
          :aria-label="`${one}: propose this address`"
          @click="address = one"
        /></div
    ></template>
  </div>
</template>
