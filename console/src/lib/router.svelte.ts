/** Where we are: the path, and links followed without loading the page again. */
class Router {
  path = $state(location.pathname);

  start(): void {
    addEventListener('popstate', () => (this.path = location.pathname));
    document.addEventListener('click', (e) => {
      const link = (e.target as Element).closest('a');
      const plain = e.button === 0 && !e.metaKey && !e.ctrlKey && !e.shiftKey;
      if (link && plain && link.origin === location.origin && !link.download && link.target === '') {
        e.preventDefault();
        this.go(link.pathname);
      }
    });
  }

  go(path: string): void {
    if (path !== this.path) history.pushState(null, '', path);
    this.path = path;
    scrollTo(0, 0);
    document.getElementById('page')?.focus({ preventScroll: true });
  }

  /** The parts after the first: /gateways/ID gives [ID]. */
  get parts(): string[] {
    return this.path.split('/').filter(Boolean).map(decodeURIComponent);
  }
}

export const router = new Router();
