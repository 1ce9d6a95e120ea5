import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

// three.js and Ant Design are large by nature; they load once and are cached for good.
export default defineConfig({
  plugins: [react()],
  build: {
    chunkSizeWarningLimit: 1600,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            // What all share, so that nothing of it waits for the drawing in space.
            { name: "react", test: /node_modules\/(react|react-dom|react-router|scheduler|zustand|use-sync-external-store|@tanstack|@babel)\//, priority: 2 },
            { name: "three", test: /node_modules\/(three|@react-three)/ },
          ],
        },
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8717" } },
});
