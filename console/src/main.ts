import { VueQueryPlugin } from "@tanstack/vue-query";
import PrimeVue from "primevue/config";
import { createApp } from "vue";
import App from "@/App.vue";
import { router } from "@/router";
import { preset } from "@/style/preset";
import "@/style/base.css";

createApp(App)
  .use(router)
  .use(VueQueryPlugin, { queryClientConfig: { defaultOptions: { queries: { retry: 1, staleTime: 5_000 } } } })
  .use(PrimeVue, { theme: { preset, options: { darkModeSelector: "none", cssLayer: false } } })
  .mount("#app");
