import react from '@vitejs/plugin-react'
import { gzipSync } from 'node:zlib'
import { defineConfig, type Plugin } from 'vite'

/** Compresses what the server hands out, once, when it is built. */
function gzipped(): Plugin {
  return {
    name: 'gzipped',
    apply: 'build',
    generateBundle: {
      order: 'post',
      handler(_, bundle) {
        for (const [fileName, file] of Object.entries(bundle)) {
          if (!/\.(js|css)$/.test(fileName)) continue
          const source = file.type === 'chunk' ? file.code : file.source
          this.emitFile({ type: 'asset', fileName: `${fileName}.gz`, source: gzipSync(source, { level: 9 }) })
        }
      },
    },
  }
}

/** Keeps the folder in version control when a build empties it. */
function keepFolder(): Plugin {
  return {
    name: 'keep-folder',
    apply: 'build',
    generateBundle() {
      this.emitFile({ type: 'asset', fileName: '.keep', source: '' })
    },
  }
}

export default defineConfig({
  plugins: [react(), gzipped(), keepFolder()],
  build: { target: 'es2022', chunkSizeWarningLimit: 1200 },
  server: { proxy: { '/api': process.env.BATHYFORM_SERVER ?? 'http://127.0.0.1:8440' } },
})
