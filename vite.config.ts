import { reactRouter } from '@react-router/dev/vite';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: process.env.VITEST ? [] : [reactRouter()],
  resolve: { alias: { '~': import.meta.dirname } },
  worker: { format: 'es' },
  // MUI ships CommonJS fallbacks that Node's loader would pick on the server: bundle it instead.
  ssr: { noExternal: [/^@mui\//] },
  test: {
    include: ['{core,protocol,engine,server,standins,app,scripts}/**/*.test.{ts,tsx}'],
    environment: 'node',
    // A process of its own for each of a hundred files costs more than their tests: they share nothing that they change.
    isolate: false,
    // Minutes of sound are rendered and judged in some: no timing is asserted, so the limit is only against hanging.
    testTimeout: 240_000,
  },
} as Parameters<typeof defineConfig>[0]);
