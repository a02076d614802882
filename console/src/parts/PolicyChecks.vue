<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import { RouterLink } from "vue-router";
import InputText from "primevue/inputtext";
import { api, data } from "@/api/client";

/** Every check by area: on or off for this site, its help page, and its own values. */
const without = defineModel<string[] | undefined>("without", { required: true });
const parameters = defineModel<Record<string, Record<string, unknown>> | undefined>("parameters", {
  required: true,
});
defineProps<{ site: string }>();
const { data: checks } = useQuery({
  queryKey: ["checks"],
  queryFn: () => data(api.GET("/api/v1/checks")),
  staleTime: Infinity,
});
const areas = computed(() => {
  const found = new Map<string, NonNullable<typeof checks.value>["items"]>();
  for (const check of checks.value?.items ?? []) {
    const area = check.id.split("/")[0]!;
    found.set(area, [...(found.get(area) ?? []), check]);
  }
  return [...found];
});
const off = (id: string) =>
  without.value?.some((one) => one === id || one === id.split("/")[0]) ?? false;
const wholeArea = (id: string) => without.value?.includes(id.split("/")[0]!) ?? false;
function turn(id: string, on: boolean) {
  const now = on
    ? (without.value ?? []).filter((one) => one !== id)
    : [...(without.value ?? []), id];
  without.value = now.length ? now : undefined;
}
function setValue(id: string, name: string, text: string, usual: unknown) {
  const own = { ...parameters.value?.[id] };
  if (text === "") delete own[name];
  else
    own[name] =
      typeof usual === "number"
        ? Number(text)
        : typeof usual === "boolean"
          ? text === "true"
          : text;
  const all = { ...parameters.value, [id]: own };
  if (!Object.keys(own).length) delete all[id];
  parameters.value = Object.keys(all).length ? all : undefined;
}
const simple = (given: Record<string, unknown>) =>
  Object.entries(given).filter(([, usual]) =>
    ["number", "string", "boolean"].includes(typeof usual),
  );
const target = (event: Event) => event.target as HTMLInputElement;
</script>

<template>
  <details v-for="[area, inside] in areas" :key="area" class="area">
    <summary>
      {{ area }}, {{ inside.filter((check) => !off(check.id)).length }} of {{ inside.length }} on
    </summary>
    <ul class="plain-list">
      <li v-for="check in inside" :key="check.id">
        <input
          type="checkbox"
          :checked="!off(check.id)"
          :disabled="wholeArea(check.id)"
          :aria-label="`${check.id} is on`"
          @change="(event) => turn(check.id, target(event).checked)"
        />
        <div>
          <RouterLink :to="{ name: 'check', params: { site, check: check.id.split('/') } }">{{
            check.title
          }}</RouterLink>
          <code class="soft">{{ check.id }}</code>
          <p class="soft small">
            {{ check.weight }} ·
            {{ check.criteria.length ? `WCAG ${check.criteria.join(", ")}` : "good practice" }}
          </p>
          <div v-for="[name, usual] in simple(check.parameters)" :key="name" class="row small">
            <label :for="`par-${check.id}-${name}`">{{
              name.replaceAll("_", " ")
            }}</label><InputText
              :id="`par-${check.id}-${name}`"
              size="small"
              :placeholder="String(usual)"
              :model-value="
                parameters?.[check.id]?.[name] == null ? '' : String(parameters[check.id]![name])
              "
              @change="(event: Event) => setValue(check.id, name, target(event).value, usual)"
            />
          </div>
        </div>
      </li>
    </ul>
  </details>
</template>

<style scoped>
.area {
  border-bottom: 1px solid var(--line);
  padding: 4px 0;
}
li {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr);
  gap: 10px;
  padding: 8px 0 8px 8px;
  overflow-wrap: anywhere;
}
</style>
