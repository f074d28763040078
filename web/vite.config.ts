import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const server = process.env.WANDER_SERVER ?? "http://127.0.0.1:8460";

export default defineConfig({
  plugins: [react()],
  server: { proxy: { "/api": { target: server, ws: true } } },
  build: {
    target: "es2022",
    chunkSizeWarningLimit: 800,
    rollupOptions: {
      output: {
        manualChunks: (id: string) => (id.includes("node_modules/three") ? "three" : undefined),
      },
    },
  },
});
