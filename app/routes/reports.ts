import { chaptersOf, chaptersVtt, eveningCsv, eveningJsonLines } from '~/core/delivery/evening';
import { studioOf } from '../server/context.server';
import type { Route } from './+types/reports';

const FORMATS = {
  csv: { type: 'text/csv; charset=utf-8', make: eveningCsv },
  jsonl: { type: 'application/jsonl; charset=utf-8', make: eveningJsonLines },
  vtt: {
    type: 'text/vtt; charset=utf-8',
    make: (moments: Parameters<typeof chaptersOf>[0]) => chaptersVtt(chaptersOf(moments)),
  },
} as const;

/** The report of an evening as a file: a table, everything, or chapters. */
export function loader({ params, context }: Route.LoaderArgs) {
  const studio = studioOf(context);
  const evening = studio.evenings.find(params.eveningId);
  const format = FORMATS[params.format as keyof typeof FORMATS];
  if (!evening || evening.showId !== params.showId || !format)
    throw Response.json({ message: 'there is no such report' }, { status: 404 });
  studio.access.audit(context.visitor, 'exported', `report, ${params.format}`);
  const day = new Date(evening.startedMs).toISOString().slice(0, 10);
  return new Response(format.make(studio.evenings.moments(evening.id)), {
    headers: {
      'content-type': format.type,
      'content-disposition': `attachment; filename="evening-${day}.${params.format}"`,
    },
  });
}
