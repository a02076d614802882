<script setup lang="ts">
import type { FindingInFull } from "@/api/client";
import HelpText from "@/parts/HelpText.vue";
import OwnHelpLine from "@/parts/OwnHelpLine.vue";
import { useCheckHelp } from "@/use/checks";

/** A check's help page: who is hindered, what an editor and what a template developer does. */
const props = defineProps<{ check: string; own?: FindingInFull["own_help"] }>();
const { data: help } = useCheckHelp(() => props.check);
</script>

<template>
  <section v-if="help" class="card" aria-labelledby="help-title">
    <h2 id="help-title">About this check</h2>
    <p class="soft small">
      {{ help.title }} · {{ help.id }} ·
      {{ help.criteria.length ? `WCAG ${help.criteria.join(", ")}` : "good practice"
      }}{{ help.act_rule ? ` · ACT rule ${help.act_rule}` : "" }}
    </p>
    <OwnHelpLine v-if="own" :help="own" />
    <HelpText :text="help.summary" />
    <template v-for="(body, heading) in help.sections" :key="heading"
      ><h3>{{ heading }}</h3>
      <HelpText :text="body"
    /></template>
  </section>
</template>
