import base from './playwright.config'; export default { ...base, globalSetup: undefined };
