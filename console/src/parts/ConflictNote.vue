<script setup lang="ts">
import Button from "primevue/button";
import { day, moveName, moverName, stateName, time } from "@/format";
import type { Conflict } from "@/use/moves";

/** Somebody was first: what one saw and wanted beside what it is now. */
defineProps<{ conflict: Conflict }>();
defineEmits<{ again: []; leave: [] }>();
const due = (on: string | null) => (on ? day(on) : "no day");
</script>

<template>
  <section class="card conflict" role="alert" aria-labelledby="conflict-title">
    <h2 id="conflict-title">Somebody was first</h2>
    <p>{{ conflict.says }}.</p>
    <table class="plain">
      <caption class="only-aloud">
        As you saw it and as it is now
      </caption>
      <thead>
        <tr>
          <td></td>
          <th scope="col">As you saw it</th>
          <th scope="col">As it is now</th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <th scope="row">State</th>
          <td>{{ stateName(conflict.wanted.fix.state, conflict.wanted.fix.reopened_after) }}</td>
          <td>{{ stateName(conflict.now.state, conflict.now.reopened_after) }}</td>
        </tr>
        <tr>
          <th scope="row">Owner</th>
          <td>{{ conflict.wanted.fix.owner ?? conflict.wanted.fix.group ?? "nobody" }}</td>
          <td>{{ conflict.now.owner ?? conflict.now.group ?? "nobody" }}</td>
        </tr>
        <tr>
          <th scope="row">Due</th>
          <td>{{ due(conflict.wanted.fix.due_on) }}</td>
          <td>{{ due(conflict.now.due_on) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="conflict.now.events.length">
      Last: {{ moverName(conflict.now.events.at(-1)!) }}
      {{ moveName(conflict.now.events.at(-1)!.move) }}, {{ time(conflict.now.events.at(-1)!.at)
      }}<template v-if="conflict.now.events.at(-1)!.why"
        >: {{ conflict.now.events.at(-1)!.why }}</template
      >
    </p>
    <div class="row">
      <Button
        v-if="conflict.now.moves.includes(conflict.wanted.move)"
        label="Do it all the same"
        @click="$emit('again')"
      /><Button label="Leave it as it is" variant="outlined" @click="$emit('leave')" />
    </div>
  </section>
</template>

<style scoped>
.conflict {
  border: 2px solid var(--barrier);
}
</style>
