<script setup lang="ts">
import { computed, useId } from "vue";
import InputText from "primevue/inputtext";
import Select from "primevue/select";
import Textarea from "primevue/textarea";
import type { PolicyField } from "@/api/client";

/** One field of a policy with its explanation, in the control that fits it. Undefined: the default applies. */
const value = defineModel<unknown>({ required: true });
const props = defineProps<{ field: PolicyField }>();
const id = useId();
/** What applies where nothing is chosen, as a text; a field without says so in its explanation. */
const fallback = computed(() =>
  props.field.value == null || props.field.value === "" || typeof props.field.value === "object"
    ? undefined
    : String(props.field.value),
);
const lines = (text: string) =>
  text
    .split("\n")
    .map((one) => one.trim())
    .filter(Boolean);
const asText = computed(() => (Array.isArray(value.value) ? value.value.join("\n") : ""));
const lists = computed(() => (value.value ?? {}) as Record<string, string[]>);
function setLines(text: string) {
  const given = lines(text);
  value.value = given.length ? given : undefined;
}
function setList(name: string, text: string) {
  const all = { ...lists.value, [name]: lines(text) };
  const kept = Object.fromEntries(Object.entries(all).filter(([, phrases]) => phrases.length));
  value.value = Object.keys(kept).length ? kept : undefined;
}
/** A text by check, one in a line: the check, a colon, the text. */
const byCheck = computed(() =>
  Object.entries((value.value ?? {}) as Record<string, string>)
    .map(([check, text]) => `${check}: ${text}`)
    .join("\n"),
);
function setByCheck(text: string) {
  const pairs = lines(text).map((line) => {
    const at = line.indexOf(":");
    return at < 0 ? [line, ""] : [line.slice(0, at).trim(), line.slice(at + 1).trim()];
  });
  value.value = pairs.length ? Object.fromEntries(pairs) : undefined;
}
function turn(one: string, on: boolean) {
  const now = (value.value as string[] | undefined) ?? (props.field.value as string[]);
  value.value = on ? [...now, one] : now.filter((other) => other !== one);
}
const isOn = (one: string) =>
  ((value.value as string[] | undefined) ?? (props.field.value as string[])).includes(one);
const target = (event: Event) => event.target as HTMLInputElement;
</script>

<template>
  <div class="policy-field">
    <div class="says">
      <strong :id="`${id}-t`">{{ field.title }}</strong> <code class="soft">{{ field.name }}</code>
      <p :id="`${id}-s`" class="soft small">
        {{ field.says }}
        <template v-if="fallback !== undefined">Default: {{ fallback }}.</template>
      </p>
    </div>
    <Select
      v-if="field.kind === 'choice'"
      :model-value="(value as string | undefined) ?? null"
      :aria-labelledby="`${id}-t`"
      :options="field.choices"
      :placeholder="fallback"
      show-clear
      @update:model-value="(one) => (value = one ?? undefined)"
    />
    <fieldset v-else-if="field.kind === 'choices'" :aria-labelledby="`${id}-t`">
      <label v-for="one in field.choices" :key="one" class="row"
        ><input
          type="checkbox"
          :checked="isOn(one)"
          @change="(event) => turn(one, target(event).checked)"
        />
        {{ one }}</label
      >
    </fieldset>
    <InputText
      v-else-if="field.kind === 'number'"
      type="number"
      min="1"
      :model-value="value == null ? '' : String(value)"
      :placeholder="fallback"
      :aria-labelledby="`${id}-t`"
      :aria-describedby="`${id}-s`"
      @update:model-value="(text) => (value = text ? Number(text) : undefined)"
    />
    <InputText
      v-else-if="field.kind === 'text' || field.kind === 'day'"
      :type="field.kind === 'day' ? 'date' : 'text'"
      :model-value="(value as string | undefined) ?? ''"
      :aria-labelledby="`${id}-t`"
      :aria-describedby="`${id}-s`"
      @update:model-value="(text) => (value = text || undefined)"
    />
    <Textarea
      v-else-if="field.kind === 'texts'"
      :key="field.name"
      rows="2"
      placeholder="one in a line"
      :default-value="asText"
      :model-value="asText"
      :aria-labelledby="`${id}-t`"
      :aria-describedby="`${id}-s`"
      @change="(event: Event) => setLines(target(event).value)"
    />
    <Textarea
      v-else-if="field.kind === 'by-check'"
      :key="field.name"
      rows="3"
      placeholder="links/vague: Ask the web team, extension 12"
      :model-value="byCheck"
      :aria-labelledby="`${id}-t`"
      :aria-describedby="`${id}-s`"
      @change="(event: Event) => setByCheck(target(event).value)"
    />
    <div v-else-if="field.kind === 'words'" class="stack tight">
      <div v-for="name in field.choices" :key="name" class="field">
        <label :for="`${id}-${name}`">{{ name }}</label><Textarea
          :id="`${id}-${name}`"
          rows="1"
          auto-resize
          placeholder="one phrase in a line"
          :model-value="(lists[name] ?? []).join('\n')"
          @change="(event: Event) => setList(name, target(event).value)"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.policy-field {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 8px 24px;
  padding: 12px 0;
  border-bottom: 1px solid var(--line);
  align-items: start;
}
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
:deep(textarea) {
  width: 100%;
}
@media (max-width: 760px) {
  .policy-field {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
