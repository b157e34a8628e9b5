import { deinterlacePlane, type Plane } from '../../../core/picture/deinterlace';

/** Of eight-bit formats: how many bytes a point of the first plane has, and how wide and high the others are. */
const FORMATS: Record<string, { bytes: number; others: number; rowShare: number; highShare: number }> = {
  I420: { bytes: 1, others: 2, rowShare: 2, highShare: 2 },
  NV12: { bytes: 1, others: 1, rowShare: 1, highShare: 2 },
  I422: { bytes: 1, others: 2, rowShare: 2, highShare: 1 },
  I444: { bytes: 1, others: 2, rowShare: 1, highShare: 1 },
  RGBA: { bytes: 4, others: 0, rowShare: 1, highShare: 1 },
  RGBX: { bytes: 4, others: 0, rowShare: 1, highShare: 1 },
  BGRA: { bytes: 4, others: 0, rowShare: 1, highShare: 1 },
  BGRX: { bytes: 4, others: 0, rowShare: 1, highShare: 1 },
};

/** Makes pictures of two fields, one after the other, pictures of one moment each. */
export class Deinterlacer {
  /** Taken by turns: the picture before is looked at, and allocating megabytes for each would cost as much again. */
  #rooms: [Uint8Array<ArrayBuffer>, Uint8Array<ArrayBuffer>] = [new Uint8Array(0), new Uint8Array(0)];
  #out = new Uint8Array(0);
  #like = '';
  /** This kind of picture cannot be copied out: it is shown as it comes. */
  #uncopied = false;

  /** @returns a new picture, `frame` closed; or `frame` itself where its points cannot be reached */
  async run(frame: VideoFrame): Promise<VideoFrame> {
    const format = FORMATS[frame.format ?? ''];
    const { width, height } = frame.visibleRect ?? { width: 0, height: 0 };
    if (!format || this.#uncopied || width === 0) return frame;
    const size = frame.allocationSize();
    const like = `${frame.format} ${width}x${height}`;
    const first = like !== this.#like || this.#rooms[0].length !== size;
    if (first) {
      this.#rooms = [new Uint8Array(size), new Uint8Array(size)];
      this.#out = new Uint8Array(size);
      this.#like = like;
    }
    const [picture, before] = this.#rooms;
    let layout: PlaneLayout[];
    try {
      layout = await frame.copyTo(picture);
    } catch (error) {
      this.#uncopied = true;
      console.warn(error);
      return frame;
    }
    layout.forEach(({ offset, stride }, i) => {
      const plane: Plane = {
        offset,
        stride,
        rowBytes: i === 0 ? width * format.bytes : Math.ceil(width / format.rowShare),
        height: i === 0 ? height : Math.ceil(height / format.highShare),
      };
      deinterlacePlane(picture, first ? null : before, this.#out, plane);
    });
    this.#rooms = [before, picture];
    const made = new VideoFrame(this.#out, {
      format: frame.format!,
      codedWidth: width,
      codedHeight: height,
      displayWidth: frame.displayWidth,
      displayHeight: frame.displayHeight,
      timestamp: frame.timestamp,
      colorSpace: frame.colorSpace.toJSON(),
      layout,
    });
    frame.close();
    return made;
  }
}
