import { Random } from './random.js';

/** A file of the demo world that is no price: it is imported as any other. */
export interface DemoFile {
  /** Of its tape; a file with several names its tapes by what is in it. */
  name: string;
  text: string;
  note: string;
  unit: string;
  zone: string;
}

const SEED = 19000101;
const DAY_MS = 86_400_000;
const ZONE = 'Atlantic/Faroe';
const dateText = (time: number) => new Date(time).toISOString().slice(0, 10);
const table = (head: string, rows: readonly string[]) => `${head}\n${rows.join('\n')}\n`;

/** Data of the harbour that are no prices; the same on every machine. */
export function demoFiles(): DemoFile[] {
  return [landings(), harbourAir(), calls(), orders()];
}

/** Tonnes landed each month since 1900: a yearly season, and a cycle of 38 years. */
function landings(): DemoFile {
  const random = new Random(SEED);
  const rows: string[] = [];
  for (let month = 0; month < 12 * 126 + 4; month++) {
    const season = 1 + 0.45 * Math.cos((2 * Math.PI * (month - 3)) / 12);
    const cycle = 1 + 0.35 * Math.sin((2 * Math.PI * month) / (12 * 38));
    const tonnes = 420 * season * cycle * Math.exp(0.16 * random.normal());
    rows.push(`${1900 + Math.floor(month / 12)}-${String(1 + (month % 12)).padStart(2, '0')},${tonnes.toFixed(1)}`);
  }
  const note = 'Landings of the harbour by the month: a yearly season and a cycle of 38 years';
  return { name: 'LANDINGS', text: table('month,landings_t', rows), note, unit: 'tonnes', zone: ZONE };
}

/** Degrees of the air at the harbour each hour of two years, below and above zero. */
function harbourAir(): DemoFile {
  const random = new Random(SEED + 1);
  const from = Date.UTC(2024, 3, 25);
  const rows: string[] = [];
  let weather = 0;
  for (let hour = 0; hour < 24 * 730; hour++) {
    const season = -7 * Math.cos((2 * Math.PI * (hour / 24 + 95)) / 365.25);
    const day = -2.2 * Math.cos((2 * Math.PI * (hour - 2)) / 24);
    weather = 0.985 * weather + 0.4 * random.normal();
    const degrees = 3 + season + day + weather;
    rows.push(`${new Date(from + hour * 3_600_000).toISOString().slice(0, 19)}Z,${degrees.toFixed(1)}`);
  }
  const note = 'Air at the harbour by the hour: a season, a day, and weather that lasts';
  return { name: 'HARBOUR_AIR', text: table('time,air_c', rows), note, unit: '°C', zone: ZONE };
}

const DISTRICTS = [
  ['Northquay', 4.2],
  ['Oldtown', 2.1],
  ['Skerries', 0.5],
] as const;
/** Of the mean, from Monday on. */
const CALLS_BY_DAY = [0.8, 0.75, 0.8, 0.9, 1.2, 1.5, 1.05];

/** Calls for the harbour pilots a day, by district: counts with zeros, and a season of a week. */
function calls(): DemoFile {
  const random = new Random(SEED + 2);
  const rows: string[] = [];
  for (let day = 0; day < 730; day++) {
    const time = Date.UTC(2024, 3, 29) + day * DAY_MS; // a Monday
    for (const [district, mean] of DISTRICTS)
      rows.push(`${dateText(time)},${district},${random.poisson(mean * CALLS_BY_DAY[day % 7])}`);
  }
  const note = 'Calls for the harbour pilots by the day: counts with a season of a week';
  return { name: 'CALLS', text: table('date,district,calls', rows), note, unit: 'calls', zone: ZONE };
}

const REGIONS = ['Harbour', 'Isles', 'Mainland'];

/** Orders of the ship chandler: ids, regions, and amounts that are below zero where goods come back. */
function orders(): DemoFile {
  const random = new Random(SEED + 3);
  const rows: string[] = [];
  for (let day = 0, id = 40_000; day < 480; day++) {
    if (day % 7 > 4) continue;
    const time = Date.UTC(2025, 0, 6) + day * DAY_MS;
    for (let order = 1 + random.poisson(2.4); order > 0; order--) {
      const isReturn = random.uniform() < 0.08;
      const crowns = Math.exp(5.2 + 0.8 * random.normal()) * (isReturn ? -0.5 : 1);
      const region = REGIONS[Math.min(2, Math.floor(3 * random.uniform() ** 1.4))];
      rows.push(`${dateText(time)},C${id++},${region},${crowns.toFixed(2)}`);
    }
  }
  const note = 'Orders of the ship chandler by region; amounts below zero are returns';
  return { name: 'CHANDLER', text: table('date,order_id,region,amount', rows), note, unit: 'crowns', zone: ZONE };
}
