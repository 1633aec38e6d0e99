/** Where we are: the path, what is chosen there, and links followed without loading the page again. */
class Router {
  path = $state(globalThis.location?.pathname ?? '/');
  /** Grows with every move, also to the page that is shown: its choices are then those of the new address. */
  visit = $state(0);

  start(): void {
    addEventListener('popstate', () => this.moved());
    document.addEventListener('click', (e) => {
      const link = (e.target as Element).closest('a');
      const plain = e.button === 0 && !e.metaKey && !e.ctrlKey && !e.shiftKey;
      if (link && plain && link.origin === location.origin && !link.download && link.target === '') {
        e.preventDefault();
        this.go(link.pathname + link.search);
      }
    });
  }

  go(to: string): void {
    if (to !== location.pathname + location.search) history.pushState(null, '', to);
    this.moved();
    scrollTo(0, 0);
    document.getElementById('page')?.focus({ preventScroll: true });
  }

  private moved(): void {
    this.path = location.pathname;
    this.visit++;
  }

  /** What the address says was chosen, such as a filter; empty where it says nothing. */
  chosen(name: string): string {
    return new URLSearchParams(globalThis.location?.search).get(name) ?? '';
  }

  /** Keeps a choice in the address, so that a reload, a bookmark and the Back button find it. */
  choose(name: string, value: string): void {
    const query = new URLSearchParams(location.search);
    if (value) query.set(name, value);
    else query.delete(name);
    const words = query.toString();
    history.replaceState(null, '', location.pathname + (words && '?' + words));
  }

  /** The parts after the first: /gateways/ID gives [ID]. */
  get parts(): string[] {
    return this.path.split('/').filter(Boolean).map(decodeURIComponent);
  }
}

export const router = new Router();

/** A choice of a page that the address bar holds. */
export class Chosen {
  private current = $state('');

  constructor(private readonly name: string, private readonly otherwise = '') {
    this.current = router.chosen(name) || otherwise;
  }

  get value(): string {
    return this.current;
  }

  set value(value: string) {
    this.current = value;
    router.choose(this.name, value === this.otherwise ? '' : value);
  }
}
