import Joi from 'joi';
import { hostsOf, type IngestServer } from '~/core/connectors/connector';
import { destinationOf } from '~/core/connectors/destination';
import { Fault } from '~/core/fault';
import { findRecord } from '~/core/show/document';
import { readConnector } from '~/protocol/connector-schema';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import type { Route } from './+types/connectors';

type Order =
  | { intent: 'read' | 'add'; text: string }
  | { intent: 'remove' | 'destination'; id: string }
  | { intent: 'servers'; id: string; destinationId: string };

/** How long it may be is said in words where it is read. */
const text = Joi.string().required();
const id = Joi.string().max(64).required();
const schema = Joi.alternatives<Order>(
  Joi.object({ intent: Joi.string().valid('read', 'add').required(), text }),
  Joi.object({ intent: Joi.string().valid('remove', 'destination').required(), id }),
  Joi.object({ intent: Joi.string().valid('servers').required(), id, destinationId: id }),
);

/** What somebody reads of a connector before it is taken. */
export interface ConnectorSummary {
  id: string;
  name: string;
  /** Whom this computer will talk to. */
  hosts: string[];
  /** Whether one with its id is there, and would be replaced. */
  replaces: boolean;
}

/** Files that describe services: looked at, taken, removed; and what a destination at one of them begins with. */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const { connectors, accounts, access } = studio;
  const { error, value } = schema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  const found = (wanted: string) => {
    const connector = connectors.find(wanted);
    if (!connector) throw new Fault('connector.missing', 'this connector is not here any more');
    return connector;
  };
  try {
    switch (value.intent) {
      case 'read': {
        const connector = readConnector(value.text);
        return Response.json({
          connector: {
            id: connector.id,
            name: connector.name,
            hosts: hostsOf(connector),
            replaces: connectors.find(connector.id) !== null,
          } satisfies ConnectorSummary,
        });
      }
      case 'add': {
        const connector = connectors.add(value.text, Date.now());
        access.audit(context.visitor, 'connectorAdded', connector.name);
        studio.connectorsChanged();
        return Response.json({ added: connector.id });
      }
      case 'remove': {
        const { name } = found(value.id);
        connectors.remove(value.id);
        access.audit(context.visitor, 'connectorRemoved', name);
        studio.connectorsChanged();
        return Response.json({ removed: value.id });
      }
      case 'destination': {
        const connector = found(value.id);
        const servers = await accounts.servers(connector, null);
        return Response.json({ destination: destinationOf(connector, servers) });
      }
      case 'servers': {
        const servers: IngestServer[] = await accounts.servers(
          found(value.id),
          findRecord(studio.shows.document(params.showId), 'destination', value.destinationId) ?? null,
        );
        return Response.json({ servers: servers.map(({ name, url }) => ({ name, url })) });
      }
    }
  } catch (fault) {
    return faultResponse(fault);
  }
}
