import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['src/**/*.test.ts', 'bench/**/*.test.ts', 'demo/**/*.test.ts'],
    testTimeout: 120_000,
    hookTimeout: 120_000,
    // Two cores: more threads only wait for each other.
    maxWorkers: 2,
  },
});
