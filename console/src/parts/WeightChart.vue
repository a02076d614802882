<script setup lang="ts">
import {
  Chart,
  Filler,
  Legend,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  CategoryScale,
  Tooltip,
} from "chart.js";
import { onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { Sweep } from "@/api/client";
import { day } from "@/format";
import { theme } from "@/theme";

/** Open faults by weight, sweep by sweep; the table beside it says the same in figures. */
const props = defineProps<{ sweeps: Sweep[]; label: string }>();
Chart.register(
  LineController,
  LineElement,
  PointElement,
  LinearScale,
  CategoryScale,
  Legend,
  Tooltip,
  Filler,
);
const canvas = ref<HTMLCanvasElement | null>(null);
let chart: Chart | null = null;

function draw() {
  chart?.destroy();
  if (!canvas.value) return;
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(name).trim();
  Chart.defaults.font.family = getComputedStyle(document.body).fontFamily;
  const line = (label: string, weight: string, dash: number[]) => ({
    label,
    data: props.sweeps.map((sweep) => sweep.found[weight] ?? 0),
    borderColor: colour(`--${weight}-ink`),
    backgroundColor: colour(`--${weight}-ink`),
    borderDash: dash,
    borderWidth: 2.5,
    pointRadius: 4,
    tension: 0.15,
  });
  chart = new Chart(canvas.value, {
    type: "line",
    data: {
      labels: props.sweeps.map((sweep) => `${day(sweep.created_at)} (${sweep.id})`),
      datasets: [
        line("Barriers", "barrier", []),
        line("Obstacles", "obstacle", [8, 4]),
        line("Frictions", "friction", [2, 3]),
      ],
    },
    options: {
      animation: false,
      maintainAspectRatio: false,
      interaction: { mode: "index", intersect: false },
      scales: {
        x: { ticks: { color: colour("--ink") }, grid: { display: false } },
        y: {
          beginAtZero: true,
          ticks: { color: colour("--ink"), precision: 0 },
          grid: { color: colour("--line") },
        },
      },
      plugins: { legend: { labels: { color: colour("--ink"), boxHeight: 1 } } },
    },
  });
}
onMounted(draw);
watch([() => props.sweeps, theme], () => requestAnimationFrame(draw));
onBeforeUnmount(() => chart?.destroy());
</script>

<template>
  <div class="chart"><canvas ref="canvas" role="img" :aria-label="label" /></div>
</template>

<style scoped>
.chart {
  height: 240px;
  position: relative;
}
</style>
