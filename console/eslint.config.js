import prettier from "eslint-config-prettier";
import vue from "eslint-plugin-vue";
import { defineConfigWithVueTs, vueTsConfigs } from "@vue/eslint-config-typescript";

// The recommended sets of Vue and TypeScript; how lines break is prettier's.
export default defineConfigWithVueTs(
  { ignores: ["src/api/schema.d.ts"] },
  vue.configs["flat/recommended"],
  vueTsConfigs.recommended,
  prettier,
  // A union of TypeScript in a template looks like a filter of Vue 2 to it.
  { rules: { "vue/no-deprecated-filter": "off" } },
  // A test mounts small components of its own.
  {
    files: ["src/**/*.test.ts", "src/testing/*.ts"],
    rules: { "vue/one-component-per-file": "off" },
  },
);
