import { VueQueryPlugin } from "@tanstack/vue-query";
import PrimeVue from "primevue/config";
import { createApp } from "vue";
import App from "@/App.vue";
import { router } from "@/router";
import { preset } from "@/style/preset";
import { followTheme } from "@/theme";
import "@/style/base.css";

followTheme();

createApp(App)
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: { defaultOptions: { queries: { retry: 1, staleTime: 5_000 } } },
  })
  .use(PrimeVue, { theme: { preset, options: { darkModeSelector: ".dark", cssLayer: false } } })
  .mount("#app");
