<script setup lang="ts">
import { useMutation, useQueryClient } from "@tanstack/vue-query";
import { computed, nextTick, ref } from "vue";
import { RouterLink } from "vue-router";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Message from "primevue/message";
import { api, data, ownerOf, type Fix } from "@/api/client";
import { WEIGHTS, type Environment, type Weight } from "@/choices";
import { count, says, stateName } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import FilterBar from "@/parts/FilterBar.vue";
import ChoiceField from "@/parts/ChoiceField.vue";
import EnvironmentField from "@/parts/EnvironmentField.vue";
import FixLine from "@/parts/FixLine.vue";
import LongList from "@/parts/LongList.vue";
import OwnerLoad from "@/parts/OwnerLoad.vue";
import OwnerPick from "@/parts/OwnerPick.vue";
import SavedFilters from "@/parts/SavedFilters.vue";
import TermHelp from "@/parts/TermHelp.vue";
import { session } from "@/session";
import { useAddress } from "@/use/address";
import { useDraft } from "@/use/drafts";
import { useChosenKey, useRowKeys } from "@/use/keys";
import { useListing } from "@/use/listing";
import { LIVE, STATES, useFixFilters } from "@/use/fixes";

const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const { text, set, any, clear } = useAddress();
const { owner, filters: common } = useFixFilters();
const filters = computed(() => ({
  ...common.value,
  state:
    text("state") === "all" ? undefined : text("state") ? [text("state") as Fix["state"]] : LIVE,
  late: text("late") === "yes" || undefined,
  path: text("path"),
  check: text("check"),
  sort: (text("sort") ?? "reach") as "reach" | "due" | "change",
}));
const { rows, total, more, hasMore, isPending, error, refetch } = useListing<Fix>(
  () => ["fixes", props.site, filters.value],
  (after) =>
    data(
      api.GET("/api/v1/sites/{slug}/fixes", {
        params: { path: { slug: props.site }, query: { ...filters.value, limit: 200, ...after } },
      }),
    ),
);
useRowKeys("fix");
useChosenKey();

const isManager = computed(() => session.me?.role === "manager");
const chosen = computed(() => text("chosen")?.split(".").map(Number) ?? []);
const choose = (ids: number[]) => set({ chosen: ids.join(".") });
const turn = (id: number, on: boolean) =>
  choose(on ? [...chosen.value, id] : chosen.value.filter((one) => one !== id));
const shownIds = computed(() => rows.value.slice(0, 200).map((fix) => fix.id));
const MOVES = [
  { label: "Hand on", value: "assign" },
  { label: "Set the day", value: "due" },
  { label: "Take", value: "take" },
  { label: "Put back", value: "put_back" },
  { label: "Hand in", value: "hand_in" },
  { label: "Write a note", value: "note" },
];
type Bulk = "assign" | "due" | "take" | "put_back" | "hand_in" | "note";
const what = ref<string | null>("assign");
const to = ref("none");
const due = ref("");
const done = ref("");
const { words, forget } = useDraft(`bulk-fixes:${props.site}`);
const bulk = useMutation({
  mutationFn: () =>
    data(
      api.POST("/api/v1/sites/{slug}/fixes/moves", {
        params: { path: { slug: props.site } },
        body: {
          ids: chosen.value,
          move: what.value as Bulk,
          owner: what.value === "assign" ? ownerOf(to.value) : null,
          due_on: due.value || null,
          why: words.value,
          links: [],
        },
      }),
    ),
  onSuccess: async (result) => {
    const refused = result.items.filter((one) => one.code);
    const verb = {
      assign: "handed on",
      due: "given a day",
      take: "taken",
      put_back: "put back",
      hand_in: "handed in",
      note: "noted",
    }[what.value as Bulk];
    done.value = `${count(result.items.length - refused.length, "fix", "fixes")} ${verb}.${refused.length ? ` Not: ${refused.map((one) => `${one.id} (${one.detail})`).join("; ")}` : ""}`;
    forget();
    await choose([]);
    await cache.invalidateQueries({ queryKey: ["fixes"] });
    await nextTick();
    document.getElementById("moved")?.focus();
  },
});
const states = [
  { label: "not closed", value: "" },
  { label: "all", value: "all" },
  ...STATES.map((value) => ({ label: stateName(value), value })),
];
const sorts = [
  { label: "Weight and reach", value: "reach" },
  { label: "Due day", value: "due" },
  { label: "Last change", value: "change" },
];
const lates = [{ label: "Late", value: "yes" }];
</script>

<template>
  <div class="stack">
    <div class="row spread">
      <div class="titled">
        <h1 tabindex="-1">Fixes</h1>
        <TermHelp term="fix" />
      </div>
      <nav class="tabs" aria-label="Ways to see the fixes">
        <RouterLink :to="{ name: 'fixes', params: { site } }" aria-current="page">Table</RouterLink
        ><RouterLink :to="{ name: 'board', params: { site } }" aria-label="Fixes as a board"
          >Board</RouterLink
        ><RouterLink :to="{ name: 'calendar', params: { site } }" aria-label="Fixes in a calendar"
          >Calendar</RouterLink
        ><RouterLink :to="{ name: 'history', params: { site } }">Timeline</RouterLink>
      </nav>
    </div>
    <OwnerLoad :site="site" />
    <FilterBar>
      <ChoiceField
        :model-value="text('state') ?? null"
        label="State"
        :options="states"
        all="not closed"
        @update:model-value="(state) => set({ state })"
      />
      <ChoiceField
        :model-value="filters.weight as Weight | undefined"
        label="Weight"
        :options="WEIGHTS"
        @update:model-value="(weight) => set({ weight })"
      />
      <EnvironmentField
        :model-value="filters.environment as Environment | undefined"
        :site="site"
        @update:model-value="(environment) => set({ environment })"
      />
      <OwnerPick
        id="x-owner"
        :model-value="owner"
        label="Owner"
        nobody
        anybody
        @update:model-value="(value) => set({ owner: value })"
      />
      <ChoiceField
        :model-value="text('late')"
        label="Due"
        :options="lates"
        all="Any day"
        @update:model-value="(late) => set({ late })"
      />
      <ChoiceField
        :model-value="filters.sort"
        label="Sorted by"
        :options="sorts"
        :all="null"
        @update:model-value="(sort) => set({ sort })"
      />
      <Button v-if="any" label="All fixes" variant="text" @click="clear()" />
    </FilterBar>
    <SavedFilters :site="site" view="fixes" />
    <AsyncState :loading="isPending" :error="error" what="the fixes" @again="refetch()">
      <form
        v-if="isManager && chosen.length"
        id="with-chosen"
        class="card fields"
        aria-label="With what is chosen"
        @submit.prevent="bulk.mutate()"
      >
        <ChoiceField
          v-model="what"
          :label="`With ${count(chosen.length, 'fix', 'fixes')}`"
          :options="MOVES"
          :all="null"
        />
        <OwnerPick v-if="what === 'assign'" id="x-to" v-model="to" label="Hand on to" nobody />
        <div v-if="what === 'assign' || what === 'due'" class="field">
          <label for="x-due">By</label
          ><InputText id="x-due" v-model="due" type="date" :required="what === 'due'" />
        </div>
        <div class="field grow">
          <label for="x-why">Note</label
          ><InputText id="x-why" v-model="words" maxlength="4000" :required="what === 'note'" />
        </div>
        <Button
          type="submit"
          :label="MOVES.find((one) => one.value === what)?.label"
          :loading="bulk.isPending.value"
        />
      </form>
      <p id="moved" role="status" tabindex="-1">
        {{ done || (total >= 10000 ? "10,000 fixes or more" : count(total, "fix", "fixes")) }}
      </p>
      <Message v-if="bulk.error.value" severity="error" role="alert">{{
        says(bulk.error.value)
      }}</Message>
      <label v-if="isManager && rows.length" class="row all"
        ><input
          type="checkbox"
          :checked="chosen.length > 0 && chosen.length >= shownIds.length"
          @change="choose(chosen.length ? [] : shownIds)"
        />
        Choose all that are shown</label
      >
      <LongList
        v-if="rows.length"
        :rows="rows"
        :key-of="(fix) => fix.id"
        :has-more="hasMore"
        label="Fixes"
        @more="more"
      >
        <template #default="{ row }"
          ><div class="fix">
            <input
              v-if="isManager"
              type="checkbox"
              :checked="chosen.includes(row.id)"
              :aria-label="`Choose fix ${row.id}: ${row.says}`"
              @change="turn(row.id, ($event.target as HTMLInputElement).checked)"
            /><FixLine :fix="row" with-page with-owner /></div
        ></template>
      </LongList>
      <p v-else class="card">
        No fix{{ any ? " with these filters" : ". Hand causes out to make some" }}.
      </p>
    </AsyncState>
  </div>
</template>

<style scoped>
.all {
  padding-left: 19px;
}
.fix {
  display: flex;
  gap: 14px;
  padding: 10px 18px;
}
.fix > :last-child {
  flex: 1;
}
</style>
