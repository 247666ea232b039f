import { PassageRequest } from './passage-request.js';

export class Queue {
  private readonly waiting: PassageRequest[] = [];

  join(request: PassageRequest): number {
    this.waiting.push(request);
    this.waiting.sort((a, b) => a.wantedAt - b.wantedAt);
    return this.waiting.indexOf(request) + 1;
  }

  next(): PassageRequest | undefined {
    return this.waiting.shift();
  }

  leave(craft: string): boolean {
    const at = this.waiting.findIndex(request => request.craft.name === craft);
    if (at < 0) return false;
    this.waiting.splice(at, 1);
    return true;
  }

  length(): number {
    return this.waiting.length;
  }

  forFlight(flight: string): PassageRequest[] {
    return this.waiting.filter(request => request.flight === flight);
  }
}
