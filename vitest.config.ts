import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'unit', globalSetup: './rig/test/roomsOfRun.ts', setupFiles: ['./rig/test/propertySeed.ts'], include: ['core/test/**/*.test.ts', 'document/test/**/*.test.ts', 'rig/test/**/*.test.ts', 'web/test/**/*.test.ts'], testTimeout: 400_000, hookTimeout: 200_000 } },
      { test: { name: 'server', include: ['server/test/**/*.test.ts'], testTimeout: 400_000, hookTimeout: 300_000, fileParallelism: false, pool: 'forks' } },
    ],
  },
});
