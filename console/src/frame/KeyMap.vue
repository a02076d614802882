<script setup lang="ts">
import { computed, ref } from "vue";
import { keyMap, letLettersAct, lettersAct, useKeys } from "@/use/keys";

/** What the keys do on this page, and whether single letters act at all. */
const dialog = ref<HTMLDialogElement | null>(null);
const open = () => dialog.value?.showModal();
const shown = computed(() => [...new Map(keyMap.map((one) => [one.keys, one])).values()]);
const checked = (event: Event) => (event.target as HTMLInputElement).checked;
useKeys([{ keys: "?", says: "what the keys do", act: open }]);
defineExpose({ open });
</script>

<template>
  <dialog ref="dialog" aria-labelledby="keys-title" @click.self="dialog?.close()">
    <h2 id="keys-title">Keys on this page</h2>
    <table class="plain">
      <caption class="only-aloud">
        Keys and what they do
      </caption>
      <thead>
        <tr>
          <th scope="col">Key</th>
          <th scope="col">What it does</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in shown" :key="one.keys">
          <td>
            <kbd v-for="key in one.keys.split(' ')" :key="key">{{
              key.replace("Control+", "Ctrl ")
            }}</kbd>
          </td>
          <td>{{ one.says }}</td>
        </tr>
      </tbody>
    </table>
    <label class="row"
      ><input
        type="checkbox"
        :checked="lettersAct"
        @change="(event) => letLettersAct(checked(event))"
      />
      Single letters act</label
    >
    <button type="button" class="bare" @click="dialog?.close()">Close</button>
  </dialog>
</template>

<style scoped>
dialog {
  width: min(520px, calc(100vw - 24px));
  max-height: 86vh;
  padding: 18px 20px;
  border: 1px solid var(--edge);
  border-radius: 12px;
  background: var(--paper);
  color: var(--ink);
}
dialog::backdrop {
  background: rgb(20 10 25 / 45%);
}
kbd {
  font:
    600 13px/1 ui-monospace,
    monospace;
  border: 1px solid var(--edge);
  border-radius: 4px;
  padding: 3px 7px;
  margin-right: 4px;
  display: inline-block;
}
label {
  margin: 14px 0 8px;
}
</style>
