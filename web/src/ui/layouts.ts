/** Where things sit in each layout, on a strip 640 wide and 110 high, front at the left. Shafts join what they drive. */
export type Point = [number, number];
export type Layout = { view: 'above' | 'side'; engine?: Point; axles: number[]; shafts: [Point, Point][]; slots: Record<string, Point> };

const Y = 38;
export const LAYOUTS: Record<string, Layout> = {
  'front-wheel': {
    view: 'above',
    engine: [96, Y],
    axles: [160, 540],
    shafts: [
      [
        [96, Y],
        [160, Y],
      ],
    ],
    slots: { transaxle: [160, Y], gearbox: [160, Y], 'front axle': [262, Y], supercharger: [40, Y], 'rear axle': [540, Y] },
  },
  'rear-wheel': {
    view: 'above',
    engine: [150, Y],
    axles: [84, 540],
    shafts: [
      [
        [150, Y],
        [540, Y],
      ],
    ],
    slots: { supercharger: [150, Y], gearbox: [262, Y], 'transfer case': [370, Y], 'rear axle': [540, Y], 'front axle': [84, Y] },
  },
  'rear-engine': {
    view: 'above',
    engine: [556, Y],
    axles: [84, 480],
    shafts: [
      [
        [420, Y],
        [556, Y],
      ],
    ],
    slots: { transaxle: [430, Y], gearbox: [430, Y], 'front axle': [84, Y], 'rear axle': [490, Y], supercharger: [600, Y] },
  },
  'four-wheel': {
    view: 'above',
    engine: [160, Y],
    axles: [84, 560],
    shafts: [
      [
        [160, Y],
        [400, Y],
      ],
      [
        [84, Y],
        [160, Y],
      ],
      [
        [400, Y],
        [560, Y],
      ],
    ],
    slots: { 'front axle': [84, Y], supercharger: [160, Y], gearbox: [268, Y], 'transfer case': [400, Y], 'rear axle': [560, Y], transaxle: [268, Y] },
  },
  'six-by-six': {
    view: 'above',
    engine: [152, Y],
    axles: [74, 480, 588],
    shafts: [
      [
        [74, Y],
        [152, Y],
      ],
      [
        [152, Y],
        [588, Y],
      ],
    ],
    slots: { 'front axle': [74, Y], supercharger: [152, Y], gearbox: [246, Y], 'transfer case': [362, Y], 'middle axle': [480, Y], 'rear axle': [588, Y] },
  },
  'shaft motorcycle': {
    view: 'side',
    engine: [262, 44],
    axles: [],
    shafts: [
      [
        [262, 44],
        [340, 44],
      ],
      [
        [340, 44],
        [468, 48],
      ],
    ],
    slots: { gearbox: [340, 44], 'bevel drive': [468, 46] },
  },
  bicycle: { view: 'side', axles: [], shafts: [], slots: { 'hub gear': [430, 46] } },
  boat: {
    view: 'side',
    engine: [286, 40],
    axles: [],
    shafts: [
      [
        [286, 40],
        [372, 42],
      ],
      [
        [372, 42],
        [560, 62],
      ],
    ],
    slots: { 'marine gearbox': [372, 42] },
  },
  'track machine': {
    view: 'side',
    engine: [250, 36],
    axles: [],
    shafts: [
      [
        [250, 36],
        [330, 42],
      ],
    ],
    slots: { 'chain case': [330, 42] },
  },
};

/** Where a compartment is drawn; those without a place of their own line up in the middle. */
export function placeOf(layout: string, slot: string, order: number): Point {
  return LAYOUTS[layout]?.slots[slot] ?? [200 + 110 * order, Y];
}
