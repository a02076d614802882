<script setup lang="ts">
import { useQuery } from "@tanstack/vue-query";
import { RouterLink } from "vue-router";
import { api, data } from "@/api/client";
import { count, time } from "@/format";
import AsyncState from "@/parts/AsyncState.vue";
import SweepsUnderWay from "@/parts/SweepsUnderWay.vue";
import { session } from "@/session";
import { againWhileSwept } from "@/use/site";

const {
  data: sites,
  isPending,
  error,
  refetch,
} = useQuery({
  queryKey: ["sites"],
  queryFn: () => data(api.GET("/api/v1/sites")),
  refetchInterval: (query) => againWhileSwept(query.state.data?.items ?? []),
});
</script>

<template>
  <div class="stack">
    <div class="row spread">
      <h1 tabindex="-1">Sites</h1>
      <RouterLink v-if="session.isOperator" :to="{ name: 'new-site' }">Register a site</RouterLink>
    </div>
    <AsyncState :loading="isPending" :error="error" what="the sites" @again="refetch()">
      <section v-if="!sites?.items.length" class="card" aria-labelledby="first-title">
        <h2 id="first-title">No site is registered yet</h2>
        <p v-if="session.isOperator">
          <RouterLink :to="{ name: 'new-site' }">Register the first one</RouterLink>: say where it
          is, and see its pages being found.
        </p>
        <p v-else>A manager registers it; then you see here where it stands.</p>
      </section>
      <ul class="plain-list stack">
        <li v-for="site in sites?.items" :key="site.slug" class="card">
          <h2>
            <RouterLink :to="{ name: 'site', params: { site: site.slug } }">{{
              site.name
            }}</RouterLink>
          </h2>
          <p class="soft">{{ site.live_address }}</p>
          <p v-for="figures in site.figures" :key="figures.environment">
            <strong>{{ figures.environment }}</strong>: {{ figures.ready }} of
            {{ count(figures.pages, "page") }} ready to publish, read
            {{ time(figures.finished_at) }}
          </p>
          <SweepsUnderWay :site="site.slug" :sweeps="site.under_way" />
          <p v-if="!site.figures.length && !site.under_way.length">Never read yet.</p>
        </li>
      </ul>
    </AsyncState>
  </div>
</template>
