<script setup lang="ts">
/** How an accessible name came to be, step by step of the computation (Accessible Name and Description Computation 1.2). */
defineProps<{ steps: { step: string; selector: string; says: string; text: string }[] }>();
</script>

<template>
  <table v-if="steps.length" class="plain">
    <caption class="only-aloud">
      Steps that led to the name
    </caption>
    <thead>
      <tr>
        <th scope="col">Step</th>
        <th scope="col">What was done</th>
        <th scope="col">Gave</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(step, at) in steps" :key="at">
        <td>{{ step.step }}</td>
        <td>
          {{ step.says }}<br /><code class="soft">{{ step.selector }}</code>
        </td>
        <td>{{ step.text ? `“${step.text}”` : "nothing" }}</td>
      </tr>
    </tbody>
  </table>
  <p v-else class="soft">There was nothing to take a name from.</p>
</template>
