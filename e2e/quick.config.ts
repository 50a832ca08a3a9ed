import config from './playwright.config'
export default { ...config, timeout: 60_000, expect: { timeout: 10_000 }, reporter: [['line']] }
