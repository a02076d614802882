<script setup lang="ts">
import { computed, onUnmounted, ref, useId, watch } from "vue";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { api, data, type PasswordStrength } from "@/api/client";

/** A password that somebody chooses. How good it is, and whether it may be one, the service says
 * while they type. */
const props = defineProps<{ about?: (string | undefined)[] }>();
const password = defineModel<string>({ required: true });
const id = useId();
const shown = ref(false);
const strength = ref<PasswordStrength | null>(null);
const PAUSE = 400;
let waiting: ReturnType<typeof setTimeout> | undefined;

async function judge() {
  const asked = password.value;
  const about = (props.about ?? []).filter((one): one is string => !!one?.trim());
  try {
    const found = await data(
      api.POST("/api/v1/password/strength", { body: { password: asked, about } }),
    );
    if (asked === password.value) strength.value = found;
  } catch {
    strength.value = null; // it is judged again when it is chosen
  }
}
watch(password, (now) => {
  clearTimeout(waiting);
  if (!now) strength.value = null;
  else waiting = setTimeout(judge, PAUSE);
});
onUnmounted(() => clearTimeout(waiting));
const LEVELS = ["very easy to guess", "easy to guess", "not hard enough", "good", "very good"];
const says = computed(() => (strength.value ? `This one is ${LEVELS[strength.value.score]}.` : ""));
</script>

<template>
  <label :for="id">Password, twelve characters or more</label>
  <InputText
    :id="id"
    v-model="password"
    :type="shown ? 'text' : 'password'"
    autocomplete="new-password"
    :aria-describedby="`${id}-help`"
    required
  />
  <div>
    <Button
      :label="shown ? 'Hide it' : 'Show it'"
      variant="text"
      size="small"
      @click="shown = !shown"
    />
  </div>
  <small :id="`${id}-help`" class="soft"
    >Several words that have nothing to do with each other are good, and easy to remember.</small
  >
  <div class="strength">
    <span class="steps" aria-hidden="true"
      ><span
        v-for="step in 4"
        :key="step"
        class="step"
        :class="{
          on: strength && step <= strength.score,
          good: strength && !strength.refused_for,
        }"
    /></span>
    <span role="status" class="small">{{ says }}</span>
  </div>
</template>

<style scoped>
.strength {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.5rem;
  min-height: 1.5rem;
}
.steps {
  display: inline-flex;
  gap: 0.25rem;
}
.step {
  width: 2rem;
  height: 0.5rem;
  border: 1px solid var(--p-text-muted-color);
  border-radius: 0.25rem;
}
.step.on {
  background: var(--p-text-muted-color);
}
.step.on.good {
  background: var(--p-primary-color);
  border-color: var(--p-primary-color);
}
</style>
