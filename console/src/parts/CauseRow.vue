<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import type { Cause } from "@/api/client";
import { count, day, stateName } from "@/format";
import WeightMark from "@/parts/WeightMark.vue";

const props = defineProps<{ site: string; cause: Cause; choosable: boolean }>();
const chosen = defineModel<boolean>({ required: true });
const reach = computed(() =>
  props.cause.pages === props.cause.places
    ? count(props.cause.pages, "page")
    : `${count(props.cause.places, "place")} on ${count(props.cause.pages, "page")}`,
);
const which = computed(() => `${props.cause.says} ${props.cause.path}, ${props.cause.selector}`);
</script>

<template>
  <div class="cause">
    <input v-if="choosable" v-model="chosen" type="checkbox" :aria-label="`Choose: ${which}`" />
    <div class="holder"><WeightMark :weight="cause.weight" :outcome="cause.outcome" /></div>
    <div class="says">
      <RouterLink
        :to="{
          name: 'cause',
          params: { site, cause: cause.key },
          query: { sweep: String(cause.sweep_id) },
        }"
        :aria-label="which"
        >{{ cause.says }}</RouterLink
      >
      <p class="soft small">
        {{ cause.check }} · {{ cause.path }} · first seen {{ day(cause.first_seen_at) }}
      </p>
    </div>
    <div class="reach">
      <RouterLink
        :to="{
          name: 'findings',
          params: { site },
          query: { sweep: String(cause.sweep_id), cause: cause.key },
        }"
        :aria-label="`${reach}: ${which}`"
        >{{ reach }}</RouterLink><span v-if="cause.waived" class="soft"
        >, {{ cause.waived }} waived</span
      >
      <p class="soft small">{{ cause.zone }}{{ cause.by_template ? ", by the template" : "" }}</p>
    </div>
    <div class="fix">
      <RouterLink
        v-if="cause.fix_id"
        :to="{ name: 'fix', params: { site, fix: cause.fix_id } }"
        :aria-label="`Fix ${cause.fix_id}: ${cause.fix_owner ?? 'nobody'}, ${stateName(cause.fix_state!, cause.fix_reopened_after)}`"
        >{{ cause.fix_owner ?? "nobody" }},
        {{ stateName(cause.fix_state!, cause.fix_reopened_after) }}</RouterLink
      ><span v-else class="soft">not handed out</span>
    </div>
  </div>
</template>

<style scoped>
.cause {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  padding: 10px 18px;
  align-items: flex-start;
}
.cause > .mark {
  flex: none;
}
.cause > input {
  flex: none;
}
.holder {
  flex: 0 0 9.6em;
}
.says {
  flex: 1 1 20em;
  min-width: 0;
}
.reach {
  flex: 0 1 11em;
  min-width: 0;
}
.fix {
  flex: 0 1 10em;
  min-width: 0;
}
.cause > div {
  overflow-wrap: anywhere;
}
</style>
