import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  base: "/static/",
  plugins: [react(), tailwindcss()],
  build: { manifest: "manifest.json", assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  server: {
    origin: "http://127.0.0.1:5173",
    cors: { origin: /^http:\/\/127\.0\.0\.1:\d+$/ },
    // Beside the page's own files: the words that it shares with the core, and the guide that it shows as help.
    fs: { allow: [".", "../echelle/catalogue", "../docs"] },
  },
});
