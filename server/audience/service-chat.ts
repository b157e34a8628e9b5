import type { Connector } from '../../core/connectors/connector';

/** The chat of a service that one joins by signing in. */
export interface ServiceChat {
  /** Of its connector. */
  name: string;
  chat: NonNullable<Connector['chat']>;
}
