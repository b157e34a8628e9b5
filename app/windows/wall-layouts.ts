/** What stands on a wall, under names, kept on this computer for each show. */
import type { FrameName } from '~/core/show/records';

export type WallTile =
  | { type: 'onAir'; frame: FrameName }
  | { type: 'next'; frame: FrameName }
  | { type: 'scene'; frame: FrameName; sceneId: string }
  | { type: 'input'; inputId: string }
  | { type: 'clock' }
  | { type: 'levels' };

export interface WallLayout {
  name: string;
  columns: number;
  safeAreas: boolean;
  tiles: WallTile[];
}

export const MAX_TILES = 30;
const keyOf = (showId: string) => `dolomite.walls.${showId}`;

/** Layouts that were saved; a list that somebody spoiled counts as none. */
export function savedLayouts(showId: string): WallLayout[] {
  try {
    const saved: unknown = JSON.parse(localStorage.getItem(keyOf(showId)) ?? '[]');
    return Array.isArray(saved) ? saved.filter(isLayout) : [];
  } catch {
    return [];
  }
}

export function saveLayouts(showId: string, layouts: readonly WallLayout[]): void {
  localStorage.setItem(keyOf(showId), JSON.stringify(layouts));
}

function isLayout(value: unknown): value is WallLayout {
  const of = value as Partial<WallLayout> | null;
  return (
    typeof of === 'object' &&
    of !== null &&
    typeof of.name === 'string' &&
    Number.isInteger(of.columns) &&
    typeof of.safeAreas === 'boolean' &&
    Array.isArray(of.tiles) &&
    of.tiles.every((tile) => typeof (tile as Partial<WallTile> | null)?.type === 'string')
  );
}

/** What a wall begins with: on air, next, and the first scenes. */
export function firstLayout(name: string, sceneIds: readonly string[]): WallLayout {
  return {
    name,
    columns: 3,
    safeAreas: false,
    tiles: [
      { type: 'onAir', frame: 'wide' },
      { type: 'next', frame: 'wide' },
      { type: 'clock' },
      ...sceneIds.slice(0, 6).map((sceneId): WallTile => ({ type: 'scene', frame: 'wide', sceneId })),
    ],
  };
}
