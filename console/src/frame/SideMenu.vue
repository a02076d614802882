<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import { session } from "@/session";
import { useKeys } from "@/use/keys";

/** The places of a site in groups; on narrow screens behind a button. */
const props = defineProps<{ site: string }>();
const route = useRoute();
const router = useRouter();
const open = ref(false);
watch(
  () => route.path,
  () => (open.value = false),
);

const GROUPS: { says: string; links: [name: string, says: string, key: string][] }[] = [
  {
    says: "Where it stands",
    links: [
      ["site", "Overview", "o"],
      ["causes", "Causes", "c"],
      ["pages", "Pages", "p"],
      ["findings", "Findings", "i"],
      ["review", "Review", "r"],
      ["statement", "Statement", "a"],
    ],
  },
  {
    says: "Mending",
    links: [
      ["fixes", "Fixes", "f"],
      ["corrections", "Corrections", "n"],
      ["board", "Board", "b"],
      ["calendar", "Calendar", "k"],
      ["decisions", "Decisions", "w"],
    ],
  },
  {
    says: "Before publishing",
    links: [
      ["going-out", "Going out", "u"],
      ["gate", "Gate", "t"],
      ["ask", "Ask the gate", "q"],
    ],
  },
  {
    says: "All over the site",
    links: [
      ["pictures", "Pictures", "m"],
      ["colours", "Colours", "h"],
      ["links", "Link texts", "l"],
      ["words", "Words", "x"],
    ],
  },
  {
    says: "Rules",
    links: [
      ["sweeps", "Sweeps", "s"],
      ["people", "People", "e"],
      ["policy", "Policy", "y"],
      ["log", "What was done", "z"],
    ],
  },
];
/** The log is for managers. */
const shown = (links: [name: string, says: string, key: string][]) =>
  links.filter(([name]) => name !== "log" || session.me?.role === "manager");
const here = computed(() => (route.meta.under as string | undefined) ?? String(route.name));
const go = (name: string) => router.push({ name, params: { site: props.site } });
useKeys([
  ...GROUPS.flatMap((group) =>
    group.links.map(([name, says, key]) => ({
      keys: `g ${key}`,
      says: `go to ${says}`,
      act: () => void go(name),
    })),
  ),
  { keys: "g d", says: "go to my desk", act: () => void router.push({ name: "desk" }) },
]);
</script>

<template>
  <nav class="side" aria-label="Site">
    <button
      type="button"
      class="opener"
      aria-controls="site-menu"
      :aria-expanded="open"
      @click="open = !open"
    >
      Menu of the site
    </button>
    <div id="site-menu" class="groups" :class="{ open }">
      <div v-for="group in GROUPS" :key="group.says">
        <p class="group">{{ group.says }}</p>
        <ul class="plain-list">
          <li v-for="[name, says] in shown(group.links)" :key="name">
            <RouterLink
              :to="{ name, params: { site } }"
              :class="{ here: here === name }"
              :aria-current="here === name ? 'page' : undefined"
              >{{ says }}</RouterLink
            >
          </li>
        </ul>
      </div>
      <div v-if="session.isOperator">
        <p class="group">Service</p>
        <ul class="plain-list">
          <li><RouterLink :to="{ name: 'new-site' }">Register a site</RouterLink></li>
        </ul>
      </div>
    </div>
  </nav>
</template>

<style scoped>
.side {
  padding: 18px 12px 24px 20px;
}
.opener {
  display: none;
}
.groups {
  display: grid;
  gap: 16px;
  position: sticky;
  top: 74px;
}
.group {
  font-size: 13px;
  font-weight: 600;
  color: var(--ink-soft);
  margin: 0 0 4px 12px;
}
a {
  display: block;
  padding: 6px 12px;
  border-radius: 8px;
  color: var(--ink);
  text-decoration: none;
}
a:hover {
  background: var(--soft-plum);
}
a.here {
  background: var(--plum);
  color: var(--paper);
  font-weight: 600;
}
@media (max-width: 1000px) {
  .side {
    padding: 8px 14px 0;
  }
  .opener {
    display: block;
    width: 100%;
    padding: 8px;
    font: inherit;
    font-weight: 600;
    border: 1px solid var(--edge);
    border-radius: 8px;
    background: var(--paper);
    color: var(--ink);
    cursor: pointer;
  }
  .groups {
    display: none;
    position: static;
    padding: 10px 0;
    grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  }
  .groups.open {
    display: grid;
  }
}
</style>
