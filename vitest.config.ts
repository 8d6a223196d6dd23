import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'unit', include: ['core/test/**/*.test.ts', 'document/test/**/*.test.ts', 'rig/test/**/*.test.ts', 'web/test/**/*.test.ts'], testTimeout: 120_000, hookTimeout: 120_000 } },
      { test: { name: 'server', include: ['server/test/**/*.test.ts'], testTimeout: 180_000, hookTimeout: 180_000, fileParallelism: false, pool: 'forks' } },
    ],
  },
});
