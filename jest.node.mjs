import { TestEnvironment } from 'jest-environment-node';
import { endStorages } from './jest.storages.mjs';

/** Where tests run that need no page. */
export default class extends TestEnvironment {
  async teardown() {
    endStorages();
    await super.teardown();
  }
}
