<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import Button from "primevue/button";
import { RouterLink } from "vue-router";
import { api, data, type Fix } from "@/api/client";
import { stateName } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import OwnerPick from "@/parts/OwnerPick.vue";
import { useAddress } from "@/use/address";
import { LIVE, useFixFilters } from "@/use/fixes";

/** What is due on which day of a month. */
const props = defineProps<{ site: string }>();
const { text, set } = useAddress();
const { owner, filters } = useFixFilters();
const iso = (date: Date) =>
  [date.getFullYear(), date.getMonth() + 1, date.getDate()]
    .map((part) => String(part).padStart(2, "0"))
    .join("-");
const today = iso(new Date());
const month = computed(() => text("month") ?? today.slice(0, 7));
const first = computed(
  () => new Date(Number(month.value.slice(0, 4)), Number(month.value.slice(5)) - 1, 1),
);
const name = computed(() =>
  new Intl.DateTimeFormat("en-GB", { month: "long", year: "numeric" }).format(first.value),
);
const begin = computed(
  () =>
    new Date(
      first.value.getFullYear(),
      first.value.getMonth(),
      1 - ((first.value.getDay() + 6) % 7),
    ),
);
const weeks = computed(() =>
  Array.from({ length: 6 }, (_, week) =>
    Array.from({ length: 7 }, (_, at) =>
      iso(
        new Date(
          begin.value.getFullYear(),
          begin.value.getMonth(),
          begin.value.getDate() + week * 7 + at,
        ),
      ),
    ),
  ).filter((week) => week.some((one) => one.startsWith(month.value))),
);
const step = (by: number) =>
  set({
    month: iso(new Date(first.value.getFullYear(), first.value.getMonth() + by, 1)).slice(0, 7),
  });
const {
  data: due,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["fixes", "due", computed(() => [props.site, month.value, filters.value])],
  queryFn: () =>
    data(
      api.GET("/api/v1/sites/{slug}/fixes", {
        params: {
          path: { slug: props.site },
          query: {
            ...filters.value,
            state: LIVE,
            sort: "due",
            due_from: weeks.value[0]![0],
            due_until: weeks.value.at(-1)![6],
            limit: 200,
          },
        },
      }),
    ),
});
const on = (date: string): Fix[] => due.value?.items.filter((fix) => fix.due_on === date) ?? [];
const DAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
const listed = (date: string) => ({
  name: "fixes",
  params: { site: props.site },
  query: {
    sort: "due",
    ...(owner.value ? { owner: owner.value } : {}),
    ...(date < today ? { late: "yes" } : {}),
  },
});
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Calendar of what is due</h1>
    <div class="row spread">
      <form class="fields" aria-label="Filters" @submit.prevent>
        <OwnerPick
          id="k-owner"
          :model-value="owner"
          label="Owner"
          nobody
          anybody
          @update:model-value="(value) => set({ owner: value })"
        />
      </form>
      <div class="row">
        <strong role="status" class="month">{{ name }}</strong><Button
          label="Month before"
          variant="outlined"
          @click="step(-1)"
        /><Button label="Next month" variant="outlined" @click="step(1)" />
      </div>
    </div>
    <AsyncState :loading="isPending" :error="error" what="what is due" @again="refetch()">
      <div class="card scrolls" role="region" :aria-label="`Due in ${name}`" tabindex="0">
        <table>
          <caption class="only-aloud">
            Fixes due in
            {{
              name
            }}
          </caption>
          <thead>
            <tr>
              <th v-for="one in DAYS" :key="one" scope="col">{{ one }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="week in weeks" :key="week[0]">
              <td
                v-for="date in week"
                :key="date"
                :class="{ other: !date.startsWith(month), today: date === today }"
              >
                <span class="date" :class="{ soft: !on(date).length }"
                  >{{ Number(date.slice(8)) }}{{ date === today ? ", today" : "" }}</span
                >
                <ul v-if="on(date).length" class="plain-list">
                  <li v-for="fix in on(date).slice(0, 4)" :key="fix.id">
                    <RouterLink
                      :to="{ name: 'fix', params: { site, fix: fix.id } }"
                      :class="{ late: fix.late }"
                      :aria-label="`${fix.owner ?? fix.group ?? 'nobody'}: ${fix.says}, fix ${fix.id}, ${stateName(fix.state, fix.reopened_after)}`"
                      >{{ fix.owner ?? fix.group ?? "nobody" }}: {{ fix.says }}</RouterLink
                    >
                  </li>
                  <li v-if="on(date).length > 4">
                    <RouterLink
                      :to="listed(date)"
                      :aria-label="`and ${on(date).length - 4} more of ${date}`"
                      >and {{ on(date).length - 4 }} more</RouterLink
                    >
                  </li>
                </ul>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="due?.next" class="soft">
        Only the first 200 are shown; choose an owner to see all of theirs.
      </p>
    </AsyncState>
  </div>
</template>

<style scoped>
table {
  border-collapse: collapse;
  width: 100%;
  min-width: 52em;
}
th {
  width: 14.28%;
  text-align: left;
  font-size: 0.87em;
  padding: 4px 8px;
  overflow-wrap: anywhere;
}
td {
  border: 1px solid var(--line);
  vertical-align: top;
  padding: 6px 8px;
  height: 92px;
  font-size: 13px;
}
td.other {
  background: var(--ground);
}
td.today {
  outline: 2px solid var(--plum);
  outline-offset: -2px;
}
.date {
  font-weight: 600;
}
li {
  padding: 2px 0;
}
li a {
  display: block;
  max-height: 2.9em;
  overflow: hidden;
}
.late {
  color: var(--barrier-ink);
  font-weight: 600;
}
@media (max-width: 600px) {
  .month {
    flex: 1 0 100%;
  }
}
</style>
