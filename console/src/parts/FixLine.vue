<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import type { Fix } from "@/api/client";
import { count, day, stateName } from "@/format";
import EditLink from "@/parts/EditLink.vue";
import WeightMark from "@/parts/WeightMark.vue";

const props = defineProps<{ fix: Fix; withPage?: boolean; withOwner?: boolean }>();
const where = computed(() =>
  props.fix.pages === 1
    ? props.fix.path
    : `${props.fix.path} and ${count(props.fix.pages - 1, "other page")}`,
);
</script>

<template>
  <div class="line">
    <WeightMark :weight="fix.weight" outcome="failed" />
    <div>
      <RouterLink
        :to="{ name: 'fix', params: { site: fix.site, fix: fix.id } }"
        :aria-label="`${fix.says} ${where}, fix ${fix.id}`"
        >{{ fix.says }}</RouterLink
      >
      <p class="soft">
        <span :class="['state', fix.state]">{{ stateName(fix.state, fix.reopened_after) }}</span>
        <template v-if="withPage || fix.pages > 1"> · {{ where }}</template>
        <template v-if="fix.where"> · {{ fix.where }}</template>
        <template v-if="fix.edit">
          · <EditLink :address="fix.edit" :what="`${fix.path}, fix ${fix.id}`"
        /></template>
        <template v-if="withOwner"> · {{ fix.owner ?? fix.group ?? "nobody" }}</template>
        <template v-if="fix.due_on">
          · by {{ day(fix.due_on) }}<strong v-if="fix.late">, late</strong></template
        >
        <template v-if="fix.times_reopened">
          · found again {{ count(fix.times_reopened, "time") }}</template
        >
      </p>
    </div>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(6.2em, max-content) minmax(0, 1fr);
  gap: 14px;
  align-items: start;
  justify-items: start;
}
p {
  margin: 2px 0 0;
  font-size: 13px;
  overflow-wrap: anywhere;
}
</style>
