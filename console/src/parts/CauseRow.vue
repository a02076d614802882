<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import type { Cause } from "@/api/client";
import { count, day, stateName } from "@/format";
import WeightMark from "@/parts/WeightMark.vue";

const props = defineProps<{ site: string; cause: Cause; choosable: boolean }>();
const chosen = defineModel<boolean>({ required: true });
const reach = computed(() => (props.cause.pages === props.cause.places ? count(props.cause.pages, "page") : `${count(props.cause.places, "place")} on ${count(props.cause.pages, "page")}`));
const which = computed(() => `${props.cause.says} ${props.cause.path}, ${props.cause.selector}`);
</script>

<template>
  <div class="cause" :class="{ choosable }">
    <input v-if="choosable" v-model="chosen" type="checkbox" :aria-label="`Choose: ${which}`">
    <WeightMark :weight="cause.weight" :outcome="cause.outcome" />
    <div><RouterLink :to="{ name: 'cause', params: { site, cause: cause.key }, query: { sweep: String(cause.sweep_id) } }" :aria-label="which">{{ cause.says }}</RouterLink>
      <p class="soft small">{{ cause.check }} · {{ cause.path }} · first seen {{ day(cause.first_seen_at) }}</p></div>
    <div><RouterLink :to="{ name: 'findings', params: { site }, query: { sweep: String(cause.sweep_id), cause: cause.key } }" :aria-label="`${reach}: ${which}`">{{ reach }}</RouterLink><span v-if="cause.waived" class="soft">, {{ cause.waived }} waived</span>
      <p class="soft small">{{ cause.region }}{{ cause.by_template ? ", by the template" : "" }}</p></div>
    <div class="fix"><RouterLink v-if="cause.fix_id" :to="{ name: 'fix', params: { site, fix: cause.fix_id } }" :aria-label="`Fix ${cause.fix_id}: ${cause.fix_owner ?? 'nobody'}, ${stateName(cause.fix_state!)}`">{{ cause.fix_owner ?? "nobody" }}, {{ stateName(cause.fix_state!) }}</RouterLink><span v-else class="soft">not handed out</span></div>
  </div>
</template>

<style scoped>
.cause { display: grid; grid-template-columns: 92px minmax(0, 1fr) 170px 150px; gap: 4px 14px; padding: 10px 18px; align-items: start; } .cause.choosable { grid-template-columns: 24px 92px minmax(0, 1fr) 170px 150px; }
@media (max-width: 760px) { .cause, .cause.choosable { grid-template-columns: 28px minmax(0, 1fr); } .cause:not(.choosable) > *, .choosable > :nth-child(n + 2) { grid-column: 2; } }
</style>
