<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from "@tanstack/vue-query";
import { computed } from "vue";
import Message from "primevue/message";
import { api, data } from "@/api/client";
import { count, says } from "@/format";
import { useMembers } from "@/use/members";
import { announce } from "@/use/announcements";

/** Who writes in the content system, and who that is here: by e-mail address, or as a manager says. */
const props = defineProps<{ site: string }>();
const cache = useQueryClient();
const { data: authors } = useQuery({
  queryKey: ["authors", computed(() => props.site)],
  queryFn: () =>
    data(api.GET("/api/v1/sites/{slug}/authors", { params: { path: { slug: props.site } } })),
});
const { data: people } = useMembers();
const set = useMutation({
  mutationFn: (choice: { email: string; person_id: number | null }) =>
    data(
      api.PUT("/api/v1/sites/{slug}/authors", {
        params: { path: { slug: props.site } },
        body: choice,
      }),
    ),
  onSuccess: async () => {
    announce("Kept.");
    await cache.invalidateQueries({ queryKey: ["authors"] });
    await cache.invalidateQueries({ queryKey: ["going-out"] });
  },
});
function choose(email: string, event: Event) {
  const value = (event.target as HTMLSelectElement).value;
  set.mutate({ email, person_id: value ? Number(value) : null });
}
</script>

<template>
  <section v-if="authors?.items.length" class="card" aria-labelledby="authors-title">
    <h2 id="authors-title">Who writes</h2>
    <p class="soft small">
      An author is whoever has the same e-mail address here, unless you say who it is. Fixes can be
      handed to the author of a page.
    </p>
    <Message v-if="set.error.value" severity="error" role="alert">{{
      says(set.error.value)
    }}</Message>
    <table class="plain" aria-labelledby="authors-title">
      <thead>
        <tr>
          <th scope="col">In the content system</th>
          <th scope="col">Here</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in authors.items" :key="one.email">
          <td>
            {{ one.author }}<br /><span class="soft small"
              >{{ one.email }}, {{ count(one.items, "item") }}</span
            >
          </td>
          <td>
            <select
              :aria-label="`Who ${one.author} is here`"
              :value="one.by_hand ? String(one.person_id) : ''"
              @change="choose(one.email, $event)"
            >
              <option value="">
                {{
                  one.person && !one.by_hand
                    ? `${one.person}, by e-mail address`
                    : "By e-mail address"
                }}
              </option>
              <option
                v-for="person in people?.items ?? []"
                :key="person.id"
                :value="String(person.id)"
              >
                {{ person.name }}
              </option>
            </select>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
