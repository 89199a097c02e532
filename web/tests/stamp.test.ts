import { beforeAll, describe, expect, it } from "vitest";
import type { PointsPart } from "../src/api/generated";
import { columnsOf } from "../src/scene/points";
import { Stamp } from "../src/scene/stamp";

const SIDE = 60;

beforeAll(() => {
  class Pixels {
    readonly data: Uint8ClampedArray;
    constructor(
      readonly width: number,
      readonly height: number,
    ) {
      this.data = new Uint8ClampedArray(width * height * 4);
    }
  }
  Object.assign(globalThis, { ImageData: Pixels });
});

function packed(values: ArrayLike<number> & { buffer: ArrayBufferLike }): string {
  return btoa(String.fromCharCode(...new Uint8Array(values.buffer)));
}

let made = 0;
function points(
  spots: [number, number][],
  look: Partial<PointsPart["paint"]> = {},
  hidden: number[] = [],
): PointsPart {
  made += 1;
  const columns = {
    digest: `stamped ${made}`,
    count: spots.length,
    x: packed(new Float32Array(spots.map(([x]) => x))),
    y: packed(new Float32Array(spots.map(([, y]) => y))),
    rows: null,
  };
  const paint = { fill: "#204060", stroke: null, stroke_width: 0, opacity: 1, ...look };
  return {
    part: "points",
    shape: "circle",
    size: 8,
    columns,
    paint,
    hidden: packed(new Int32Array(hidden)),
  } as PointsPart;
}

function stamped(...parts: PointsPart[]): Stamp {
  const stamp = new Stamp(SIDE, SIDE);
  for (const part of parts) stamp.discs(part, 1);
  return stamp;
}

function alphaOf({ image }: Stamp): number[] {
  return Array.from({ length: SIDE * SIDE }, (_, at) => image.data[4 * at + 3] as number);
}

/** How much of each pixel a disc covers, by asking 64 places in it. */
function covered(x: number, y: number, size: number): number[] {
  return Array.from({ length: SIDE * SIDE }, (_, at) => {
    const [left, top] = [at % SIDE, Math.floor(at / SIDE)];
    let inside = 0;
    for (let i = 0; i < 64; i++) {
      const [dx, dy] = [left + ((i % 8) + 0.5) / 8 - x, top + (Math.floor(i / 8) + 0.5) / 8 - y];
      if (Math.hypot(dx, dy) <= size / 2) inside += 1;
    }
    return (255 * inside) / 64;
  });
}

describe("stamped points", () => {
  it.each([
    [20, 20],
    [20.25, 31.5],
    [33.9, 12.6],
  ])("cover what a disc at %d, %d covers, within a quarter of a pixel", (x, y) => {
    const [ours, theirs] = [alphaOf(stamped(points([[x, y]]))), covered(x, y, 8)];
    const sum = (values: number[]) => values.reduce((all, value) => all + value, 0) / 255;
    expect(sum(ours)).toBeCloseTo(sum(theirs), 0);
    ours.forEach((alpha, at) => {
      expect(Math.abs(alpha - (theirs[at] as number)), `pixel ${at}`).toBeLessThan(90);
    });
  });

  it("have the colour of their part, and gather strength where they overlap", () => {
    const middle = 4 * (20 * SIDE + 20);
    const once = stamped(points([[20.5, 20.5]], { opacity: 0.5 })).image.data;
    const twice = stamped(
      points(
        [
          [20.5, 20.5],
          [20.5, 20.5],
        ],
        { opacity: 0.5 },
      ),
    ).image.data;
    expect([...once.slice(middle, middle + 4)]).toEqual([0x20, 0x40, 0x60, 128]);
    expect(twice[middle + 3]).toBe(192);
  });

  it("blend with the part under them as paint over paint does", () => {
    const [under, over] = [
      points([[20.5, 20.5]], { fill: "#ff0000" }),
      points([[20.5, 20.5]], { fill: "#0000ff", opacity: 0.5 }),
    ];
    const { data } = stamped(under, over).image;
    const [red, green, blue, alpha] = data.slice(4 * (20 * SIDE + 20));
    expect(alpha).toBe(255);
    expect(green).toBe(0);
    expect(Math.abs((red as number) - 127.5)).toBeLessThan(2);
    expect(Math.abs((blue as number) - 127.5)).toBeLessThan(2);
  });

  it("leave out those that another mark stands for, and nothing of the drawing before", () => {
    const [both, one] = [
      points(
        [
          [12, 12],
          [40, 40],
        ],
        {},
        [0],
      ),
      points([[40, 40]]),
    ];
    expect(alphaOf(stamped(both))).toEqual(alphaOf(stamped(one)));
    const stamp = stamped(both);
    stamp.clear();
    expect(Math.max(...alphaOf(stamp))).toBe(0);
    stamp.discs(one, 1);
    expect(alphaOf(stamp)).toEqual(alphaOf(stamped(one)));
  });

  it("are read from their own bytes", () => {
    const { x, y } = columnsOf(
      points([
        [1.5, 2.5],
        [3.5, 4.5],
      ]).columns,
    );
    expect([[...x], [...y]]).toEqual([
      [1.5, 3.5],
      [2.5, 4.5],
    ]);
  });
});
