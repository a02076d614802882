<script setup lang="ts">
import { computed } from "vue";
import { time } from "@/format";
import { LINK_STATES, type LinkStateName } from "@/choices";

/** What a link was found to lead to, with the reason and where its redirects went. */
interface Lead {
  state?: LinkStateName | null;
  says?: string | null;
  status?: number | null;
  chain?: string[] | null;
  asked_at?: string | null;
}
const props = defineProps<{ lead: Lead }>();
const name = computed(
  () => LINK_STATES.find((one) => one.value === props.lead.state)?.label ?? "not asked yet",
);
const more = computed(() =>
  [
    props.lead.says,
    props.lead.chain?.length ? `led to ${props.lead.chain.at(-1)}` : "",
    props.lead.asked_at ? `asked ${time(props.lead.asked_at)}` : "",
  ]
    .filter(Boolean)
    .join("; "),
);
</script>

<template>
  <span class="lead" :class="lead.state ?? 'none'"
    ><strong>{{ name }}</strong
    ><span v-if="more && lead.state !== 'works'" class="soft small"> {{ more }}</span></span
  >
</template>

<style scoped>
.lead .soft {
  margin-left: 8px;
}
.lead {
  overflow-wrap: anywhere;
}
.dead strong,
.no-part strong,
.only-in-staging strong {
  color: var(--barrier-ink);
}
.works strong,
.none strong {
  font-weight: 400;
  color: var(--ink-soft);
}
</style>
