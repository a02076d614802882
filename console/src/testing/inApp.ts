import { QueryClient, VueQueryPlugin } from "@tanstack/vue-query";
import { flushPromises, mount, type VueWrapper } from "@vue/test-utils";
import PrimeVue from "primevue/config";
import { defineComponent, h, type Component } from "vue";
import { createMemoryHistory, createRouter, type Router } from "vue-router";

/** What a test mounts: with the console's plugins, at an address of its own, with an empty cache. */
export interface InApp {
  wrapper: VueWrapper;
  router: Router;
  cache: QueryClient;
}

const NAMES =
  "causes cause findings finding fixes fix gate clearance pages page sweep check links words corrections".split(
    " ",
  );

/** Mount a component as the console would; routes have the console's names, not its views. */
export async function inApp(
  component: Component,
  props: Record<string, unknown> = {},
  at = "/",
): Promise<InApp> {
  const nothing = defineComponent({ render: () => null });
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: "/", component: nothing },
      { name: "site", path: "/sites/:site", component: nothing },
      ...NAMES.map((name) => ({
        name,
        path: `/sites/:site/${name}/:${name}?`,
        component: nothing,
      })),
    ],
  });
  await router.push(at);
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = mount(component, {
    props,
    global: { plugins: [router, PrimeVue, [VueQueryPlugin, { queryClient: cache }]] },
    attachTo: document.body,
  });
  await flushPromises();
  return { wrapper, router, cache };
}

/** What a composable returns, used inside a component of its own. */
export async function using<T>(use: () => T, at = "/"): Promise<{ got: T } & InApp> {
  let got: T | undefined;
  const app = await inApp(
    defineComponent({
      setup() {
        got = use();
        return () => h("div");
      },
    }),
    {},
    at,
  );
  return { got: got as T, ...app };
}

/** What the service would answer, by address: a value, or what makes one of the request. */
export type Answers = Record<string, unknown>;

/** Let the client's `GET` be answered from a table; an address that is not in it never answers. */
export function answering(answers: Answers) {
  return ((address: string, asked: unknown) => {
    if (!(address in answers)) return new Promise(() => {});
    const answer = answers[address];
    return Promise.resolve({ data: typeof answer === "function" ? answer(asked) : answer });
  }) as never;
}

/** What one reads of a component: its text, with white space as browsers show it. */
export function reads(wrapper: { text(): string }): string {
  return wrapper.text().replace(/\s+/g, " ");
}
