import react from "@vitejs/plugin-react";
import tailwindcss from "@tailwindcss/vite";
import { defineConfig } from "vite";
import { guide } from "./guide.ts";

export default defineConfig({
  plugins: [react(), tailwindcss(), guide()],
  // Fonts and scripts are all files of the build: nothing is fetched from elsewhere.
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 1200 },
  server: { proxy: { "/api": "http://127.0.0.1:7360" } },
});
