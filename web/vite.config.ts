import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";
import { SAID } from "./src/said";

const RAW = "export default ";

/** Leaves of the core's catalogue what the page says: most of it is said on figures. */
function saidWords(): Plugin {
  return {
    name: "said-words",
    transform(code, id) {
      if (!id.endsWith("en-GB.ftl?raw") || !code.startsWith(RAW)) return null;
      const whole = (JSON.parse(code.slice(RAW.length)) as string).split(/^(?=[a-z][\w-]* =)/m);
      const messages = new Map(whole.map((message) => [message.split(" ", 1)[0] ?? "", message]));
      const kept = new Set<string>();
      const keep = (name: string) => {
        if (kept.has(name)) return;
        kept.add(name);
        for (const [, held] of (messages.get(name) ?? "").matchAll(/\{ ([a-z][\w-]*) \}/g)) keep(held ?? "");
      };
      SAID.forEach(keep);
      return `${RAW}${JSON.stringify([...kept].map((name) => messages.get(name) ?? "").join(""))}`;
    },
  };
}

export default defineConfig({
  base: "/static/",
  plugins: [react(), tailwindcss(), saidWords()],
  build: { manifest: "manifest.json", assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  server: {
    origin: "http://127.0.0.1:5173",
    cors: { origin: /^http:\/\/127\.0\.0\.1:\d+$/ },
    // Beside the page's own files: the words that it shares with the core, and the guide that it shows as help.
    fs: { allow: [".", "../echelle/catalogue", "../docs"] },
  },
});
