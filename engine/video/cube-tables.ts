import { messageOf } from '../../core/fault';
import { readCube, type CubeTable } from '../../core/picture/cube-table';
import { assetUrl } from '../asset-url';
import { fetchAsset } from './sources/picture-source';

/** Colour tables of stored files, fetched and read once. */
export class CubeTables {
  readonly #tables = new Map<string, CubeTable | null>();

  /** @param onFailure told once, in words, when a table cannot be used */
  constructor(readonly onFailure: (message: string) => void) {}

  /** The table, or null while it is not there. */
  get(assetId: string): CubeTable | null {
    const found = this.#tables.get(assetId);
    if (found !== undefined) return found;
    this.#tables.set(assetId, null);
    fetchAsset(assetUrl(assetId))
      .then((response) => response.text())
      .then((text) => this.#tables.set(assetId, readCube(text)))
      .catch((error: unknown) => this.onFailure(`A colour table cannot be used: ${messageOf(error)}`));
    return null;
  }
}
