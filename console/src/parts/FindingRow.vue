<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import type { Finding } from "@/api/client";
import StandingMark from "@/parts/StandingMark.vue";
import WeightMark from "@/parts/WeightMark.vue";

const props = defineProps<{ finding: Finding; site: string }>();
// The same is said of many places: read alone, a link has to say which.
const name = computed(
  () =>
    `${props.finding.says} ${props.finding.path}, ${props.finding.line ? `line ${props.finding.line}, ` : ""}${props.finding.selector}`,
);
</script>

<template>
  <div class="finding">
    <WeightMark :weight="finding.weight" :outcome="finding.outcome" />
    <div>
      <RouterLink
        :to="{ name: 'finding', params: { site, finding: finding.id } }"
        :aria-label="name"
        >{{ finding.says }}</RouterLink
      >
      <p class="soft">
        {{ finding.path }}<template v-if="finding.where">, {{ finding.where }}</template
        ><template v-else-if="finding.line">, line {{ finding.line }}</template> ·
        {{ finding.title || "no title" }} · {{ finding.check }}
      </p>
      <div><StandingMark :standing="finding.standing" /></div>
    </div>
  </div>
</template>

<style scoped>
.finding {
  display: grid;
  grid-template-columns: minmax(6.2em, max-content) minmax(0, 1fr);
  gap: 14px;
  padding: 10px 18px;
  align-items: start;
  justify-items: start;
}
p {
  margin: 2px 0 0;
  font-size: 13px;
  overflow-wrap: anywhere;
}
</style>
