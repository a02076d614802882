import { nextTick } from "vue";
import { createRouter, createWebHistory } from "vue-router";
import { findOut, session } from "@/session";

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: "/sign-in", name: "sign-in", component: () => import("@/views/SignIn.vue"), meta: { title: "Sign in", open: true } },
    { path: "/", name: "sites", component: () => import("@/views/SitesView.vue"), meta: { title: "Sites" } },
    { path: "/sites/:site", name: "site", component: () => import("@/views/SiteView.vue"), props: true, meta: { title: "Overview" } },
    { path: "/sites/:site/findings", name: "findings", component: () => import("@/views/FindingsView.vue"), props: true, meta: { title: "Findings" } },
    { path: "/sites/:site/findings/:finding(\\d+)", name: "finding", component: () => import("@/views/FindingView.vue"), props: true, meta: { title: "Finding" } },
    { path: "/sites/:site/sweeps/:sweep(\\d+)", name: "sweep", component: () => import("@/views/SweepView.vue"), props: true, meta: { title: "Sweep" } },
    { path: "/:rest(.*)", name: "nowhere", component: () => import("@/views/NowhereView.vue"), meta: { title: "Nothing here" } },
  ],
});

router.beforeEach(async (to) => {
  if (session.me === undefined) await findOut();
  if (!session.me && !to.meta.open) return { name: "sign-in", query: { to: to.fullPath } };
  return true;
});

router.afterEach(async (to, from) => {
  document.head.querySelector("title")!.textContent = `${String(to.meta.title)} – Plum Rake`;
  if (from.matched.length === 0 || to.path === from.path) return;
  await nextTick();
  document.querySelector<HTMLElement>("h1")?.focus();
});
