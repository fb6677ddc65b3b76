import { defineConfig } from '@playwright/test'

// TypeScript units run in Playwright's runner too, without a browser.
export default defineConfig({ testDir: 'test', reporter: 'list', workers: 2 })
