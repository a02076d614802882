import { definePreset } from "@primeuix/themes";
import Aura from "@primeuix/themes/aura";

/** Plum on paper: the primary colour reaches 7:1 on white, so that text and marks in it are easy to read. */
export const preset = definePreset(Aura, {
  semantic: {
    primary: {
      50: "#faf3f8",
      100: "#f2e2ee",
      200: "#e5c5dd",
      300: "#d09dc2",
      400: "#b570a3",
      500: "#914880",
      600: "#7c396c",
      700: "#6d2f5e",
      800: "#58264c",
      900: "#43203b",
      950: "#2a1124",
    },
    colorScheme: {
      light: {
        primary: {
          color: "{primary.700}",
          contrastColor: "#ffffff",
          hoverColor: "{primary.800}",
          activeColor: "{primary.900}",
        },
        formField: {
          borderColor: "#7d7480",
          hoverBorderColor: "#5f5763",
          placeholderColor: "#665e69",
        },
      },
      dark: {
        primary: {
          color: "{primary.300}",
          contrastColor: "{primary.950}",
          hoverColor: "{primary.200}",
          activeColor: "{primary.100}",
        },
        formField: {
          background: "#1d1921",
          borderColor: "#9a8fa0",
          hoverBorderColor: "#b8aebb",
          placeholderColor: "#b8aebb",
        },
      },
    },
  },
});
