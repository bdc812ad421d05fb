import { TestEnvironment } from 'jest-environment-jsdom';
import { endStorages } from './jest.storages.mjs';

const LACKING = [
  ...['TextEncoder', 'TextDecoder', 'structuredClone', 'Request', 'Response'],
  ...['ReadableStream', 'WritableStream', 'TransformStream'],
];

/** A page to test hooks and parts of views in, with what browsers have and jsdom lacks. */
export default class extends TestEnvironment {
  async setup() {
    await super.setup();
    for (const name of LACKING) this.global[name] ??= globalThis[name];
    this.global.Element.prototype.scrollIntoView = () => undefined;
    this.global.ResizeObserver ??= class {
      observe = () => undefined;
      unobserve = () => undefined;
      disconnect = () => undefined;
    };
    this.global.matchMedia ??= () => ({
      matches: false,
      addEventListener: () => undefined,
      removeEventListener: () => undefined,
    });
  }

  async teardown() {
    endStorages();
    await super.teardown();
  }
}
