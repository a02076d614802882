<script setup lang="ts">
import { computed } from "vue";
import { RouterLink } from "vue-router";
import type { FindingInFull, FixInFull } from "@/api/client";
import { markupOf, type Proposal } from "@/mends/proposal";
import EditLink from "@/parts/EditLink.vue";
import MendLine from "@/parts/MendLine.vue";
import OwnHelpLine from "@/parts/OwnHelpLine.vue";

/** How a fix is mended, where, and what was proposed. */
const props = defineProps<{ fix: FixInFull; finding: FindingInFull }>();
const proposal = computed(() => props.fix.proposal as unknown as Proposal | null | undefined);
</script>

<template>
  <section class="card" aria-labelledby="x-mend">
    <h2 id="x-mend">How to mend it</h2>
    <p v-if="fix.where">
      {{ fix.where
      }}<template v-if="fix.in_editor"
        >: <strong>{{ fix.in_editor }}</strong></template
      >
    </p>
    <ul>
      <li v-for="mend in finding.mends" :key="mend.says"><MendLine :mend="mend" /></li>
    </ul>
    <OwnHelpLine v-if="fix.own_help" :help="fix.own_help" />
    <p v-if="proposal" class="kept">
      <strong>Proposed:</strong> {{ proposal.says || proposal.value }}
      <code class="written">{{ markupOf(finding, proposal) }}</code>
    </p>
    <p>
      <template v-if="fix.edit"><EditLink :address="fix.edit" :what="fix.path" /> · </template>
      <a :href="finding.address" rel="noreferrer">Open the page</a> ·
      <RouterLink :to="{ name: 'finding', params: { site: fix.site, finding: finding.id } }"
        >Mend it, with all that was measured</RouterLink
      >
    </p>
  </section>
</template>

<style scoped>
.kept {
  border-left: 4px solid var(--good);
  padding-left: 12px;
}
.written {
  display: block;
  overflow-wrap: anywhere;
}
</style>
