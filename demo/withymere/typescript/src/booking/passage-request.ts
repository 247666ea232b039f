import { Craft } from '../craft/craft.js';
import { Direction } from '../locks/lock-flight.js';

export interface PassageRequest {
  readonly craft: Craft;
  readonly flight: string;
  readonly direction: Direction;
  readonly wantedAt: number;
}

export class RequestRefused extends Error {
  constructor(readonly request: PassageRequest, reason: string) {
    super(`${request.craft.name}: ${reason}`);
  }
}
