<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { computed } from "vue";
import Button from "primevue/button";
import Message from "primevue/message";
import { RouterLink } from "vue-router";
import { api, data, type Fix } from "@/api/client";
import { WEIGHTS } from "@/choices";
import { count, day, says, stateName } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FilterBar from "@/parts/FilterBar.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import ConflictNote from "@/parts/ConflictNote.vue";
import OwnerPick from "@/parts/OwnerPick.vue";
import WeightMark from "@/parts/WeightMark.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { LIVE, useFixFilters } from "@/use/fixes";
import { useRowKeys } from "@/use/keys";
import { useMoves, type MoveName } from "@/use/moves";

/** Fixes by state, a column each. Only a reading moves one to the last column. */
const props = defineProps<{ site: string }>();
const { text, set } = useAddress();
const { owner, filters } = useFixFilters();
const COLUMNS: Fix["state"][] = [...LIVE, "proven"];
const MOST = 30;
const board = useQuery({
  queryKey: ["fixes", "board", computed(() => [props.site, filters.value])],
  queryFn: () =>
    Promise.all(
      COLUMNS.map((state) =>
        data(
          api.GET("/api/v1/sites/{slug}/fixes", {
            params: {
              path: { slug: props.site },
              query: {
                ...filters.value,
                state: [state],
                sort: state === "proven" ? "change" : "reach",
                limit: MOST,
              },
            },
          }),
        ),
      ),
    ),
});
/** A fix that was moved is shown in its new column before the service was asked again. */
const columns = computed(() => {
  const fixes = board.data.value?.flatMap((column) => column.items) ?? [];
  return COLUMNS.map((state, at) => ({
    state,
    total: board.data.value?.[at]?.total ?? 0,
    fixes: fixes.filter((fix) => fix.state === state),
  }));
});
const { move, conflict } = useMoves();
const STEPS: Partial<Record<Fix["state"], [MoveName, string][]>> = {
  open: [["take", "Take"]],
  in_hand: [
    ["hand_in", "Hand in"],
    ["put_back", "Put back"],
  ],
  reopened: [
    ["take", "Take"],
    ["hand_in", "Hand in"],
  ],
  handed_in: [["withdraw", "Not mended yet"]],
};
const may = (fix: Fix) =>
  session.me?.role === "manager" ||
  fix.owner_id === session.me?.id ||
  (!fix.owner_id && !fix.group_id && session.me?.role !== "reader");
useRowKeys("fix");
</script>

<template>
  <div class="stack">
    <h1 tabindex="-1">Board</h1>
    <FilterBar>
      <ChoiceField
        :model-value="text('weight')"
        label="Weight"
        :options="WEIGHTS"
        @update:model-value="(weight) => set({ weight })"
      />
      <EnvironmentField
        :model-value="text('environment')"
        :site="site"
        @update:model-value="(environment) => set({ environment })"
      />
      <OwnerPick
        id="b-owner"
        :model-value="owner"
        label="Owner"
        nobody
        anybody
        @update:model-value="(value) => set({ owner: value })"
      />
    </FilterBar>
    <ConflictNote
      v-if="conflict"
      :conflict="conflict"
      @again="move.mutate({ ...conflict.wanted, fix: conflict.now })"
      @leave="conflict = null"
    />
    <Message v-else-if="move.error.value" severity="error" role="alert">{{
      says(move.error.value)
    }}</Message>
    <AsyncState
      :loading="board.isPending.value"
      :error="board.error.value"
      what="the board"
      @again="board.refetch()"
    >
      <div class="board">
        <section
          v-for="column in columns"
          :key="column.state"
          :aria-labelledby="`b-${column.state}`"
        >
          <h2 :id="`b-${column.state}`">
            {{ stateName(column.state) }} <span class="soft figure">{{ column.total }}</span>
          </h2>
          <ul class="plain-list">
            <li v-for="fix in column.fixes" :key="fix.id" class="card ticket" data-row>
              <WeightMark :weight="fix.weight" outcome="failed" />
              <p>
                <RouterLink
                  :to="{ name: 'fix', params: { site, fix: fix.id } }"
                  :aria-label="`${fix.says} ${fix.path}, fix ${fix.id}`"
                  >{{ fix.says }}</RouterLink
                >
              </p>
              <p class="soft small">
                {{ count(fix.pages, "page") }} · {{ fix.owner ?? fix.group ?? "nobody"
                }}<template v-if="fix.due_on">
                  · by {{ day(fix.due_on) }}<strong v-if="fix.late">, late</strong></template
                >
              </p>
              <div v-if="may(fix)" class="row">
                <Button
                  v-for="[name, label] in STEPS[column.state]"
                  :key="name"
                  :label="label"
                  size="small"
                  variant="outlined"
                  :aria-label="`${label}: fix ${fix.id}`"
                  @click="move.mutate({ fix, move: name })"
                />
              </div>
            </li>
          </ul>
          <p v-if="column.total > column.fixes.length" class="small">
            <RouterLink
              :to="{ name: 'fixes', params: { site }, query: { state: column.state } }"
              :aria-label="`and ${column.total - column.fixes.length} more that are ${stateName(column.state)}`"
              >and {{ column.total - column.fixes.length }} more</RouterLink
            >
          </p>
          <p v-if="!column.fixes.length" class="soft small">None.</p>
        </section>
      </div>
    </AsyncState>
  </div>
</template>

<style scoped>
.board {
  display: grid;
  grid-template-columns: repeat(5, minmax(190px, 1fr));
  gap: 14px;
  align-items: start;
}
ul {
  display: grid;
  gap: 10px;
}
.ticket {
  padding: 10px 12px;
  display: grid;
  gap: 4px;
  justify-items: start;
}
.ticket p {
  margin: 0;
  overflow-wrap: anywhere;
}
h2 {
  font-size: 16px;
}
@media (max-width: 1200px) {
  .board {
    grid-template-columns: repeat(auto-fit, minmax(min(240px, 100%), 1fr));
  }
}
</style>
