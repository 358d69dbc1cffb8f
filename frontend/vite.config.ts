import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

const SERVER = "http://127.0.0.1:8017";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: "../src/pivrel/web/static",
    emptyOutDir: true,
    chunkSizeWarningLimit: 2000,
    license: { fileName: "licences.md" },
  },
  // The server answers its own pages only, so what `make dev` serves asks under the server's name.
  server: { proxy: { "/api": { target: SERVER, changeOrigin: true, headers: { origin: SERVER } } } },
});
