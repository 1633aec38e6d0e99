type Heard = (topic: string) => void;

/** The stream of events: topic and id, nothing else. One stream a page; it opens again by itself. */
class Live {
  connected = $state(false);
  private source: EventSource | null = null;
  private heard = new Set<Heard>();

  /** A page that the browser keeps for going back would hold its stream, and six such pages leave no connection for a seventh. */
  constructor() {
    addEventListener('pagehide', () => this.source?.close());
    addEventListener('pageshow', (e) => { if (e.persisted && this.source) this.open(); });
  }

  open(): void {
    this.close();
    this.source = new EventSource('/api/v1/events');
    this.source.addEventListener('hello', () => {
      if (!this.connected) this.heard.forEach((h) => h('*'));
      this.connected = true;
    });
    this.source.addEventListener('changed', (e) => {
      const topic = JSON.parse((e as MessageEvent).data).topic as string;
      this.heard.forEach((h) => h(topic));
    });
    this.source.onerror = () => (this.connected = false);
  }

  close(): void {
    this.source?.close();
    this.source = null;
    this.connected = false;
  }

  listen(heard: Heard): () => void {
    this.heard.add(heard);
    return () => this.heard.delete(heard);
  }
}

export const live = new Live();
