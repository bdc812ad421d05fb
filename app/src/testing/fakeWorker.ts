import { expose } from 'comlink';

/** A worker in a page: what it is asked goes through a channel, as in a browser. */
export class FakeWorker {
  static readonly begun: FakeWorker[] = [];
  /** What the next worker offers; one that offers nothing never answers. */
  static offers: object | null = null;
  isEnded = false;
  private readonly events = new EventTarget();
  private readonly channel = new MessageChannel();
  constructor() {
    FakeWorker.begun.push(this);
    if (FakeWorker.offers) expose(FakeWorker.offers, this.channel.port2);
    this.channel.port1.start();
  }
  addEventListener(type: string, listener: EventListener): void {
    (type === 'message' ? this.channel.port1 : this.events).addEventListener(type, listener);
  }
  removeEventListener(type: string, listener: EventListener): void {
    (type === 'message' ? this.channel.port1 : this.events).removeEventListener(type, listener);
  }
  postMessage(message: unknown, transferred: Transferable[] = []): void {
    this.channel.port1.postMessage(message, transferred);
  }
  terminate(): void {
    this.isEnded = true;
    this.channel.port1.close();
    this.channel.port2.close();
  }
  breakDown(): void {
    this.events.dispatchEvent(new Event('error'));
  }
}
