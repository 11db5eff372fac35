// Holds calendars to two other programs' reading of RFC 5545, the npm packages ical.js and node-ical.
//   node calendar_check.mjs read FILE         what both read of a calendar, as JSON
//   node calendar_check.mjs make SEED COUNT   calendars of closed days made by ical.js, with the days that it says they
//                                             are from 1 Jan 2026 to 31 Dec 2028, as JSON
import fs from "node:fs";
import ICAL from "ical.js";
import nodeIcal from "node-ical";

const utc = (time) => time.toISOString().slice(0, 19) + "Z";

function byIcalJs(text) {
  const calendar = new ICAL.Component(ICAL.parse(text));
  calendar.getAllSubcomponents("vtimezone").forEach((zone) => ICAL.TimezoneService.register(zone));
  return calendar.getAllSubcomponents("vevent").map((one) => {
    const event = new ICAL.Event(one);
    const at = (time) => (time.isDate ? time.toString() : utc(time.toJSDate()));
    return {
      uid: event.uid,
      start: at(event.startDate),
      end: at(event.endDate),
      status: one.getFirstPropertyValue("status"),
      sequence: event.sequence,
      summary: event.summary,
    };
  });
}

function byNodeIcal(text) {
  const day = (time) => [time.getFullYear(), time.getMonth() + 1, time.getDate()].map((n) => String(n).padStart(2, "0")).join("-");
  const at = (time) => (time.dateOnly ? day(time) : utc(time));
  return Object.values(nodeIcal.sync.parseICS(text))
    .filter((one) => one.type === "VEVENT")
    .map((one) => ({
      uid: one.uid,
      start: at(one.start),
      end: at(one.end),
      status: one.status ?? null,
      sequence: Number(one.sequence ?? 0),
      summary: one.summary,
    }));
}

// numbers by a seed, the same on every machine
function numbers(seed) {
  let state = seed >>> 0;
  return (most) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 4294967296) * most);
  };
}

const RULES = [
  () => "FREQ=YEARLY",
  (pick) => `FREQ=YEARLY;COUNT=${1 + pick(3)}`,
  (pick) => `FREQ=YEARLY;BYMONTH=${1 + pick(12)};BYDAY=${["-1MO", "1TU", "2WE", "3TH", "-2FR"][pick(5)]}`,
  (pick) => `FREQ=MONTHLY;INTERVAL=${1 + pick(3)};COUNT=${1 + pick(8)}`,
  (pick) => `FREQ=MONTHLY;BYDAY=${["1MO", "-1FR", "2SU"][pick(3)]};COUNT=${1 + pick(6)}`,
  (pick) => `FREQ=MONTHLY;BYMONTHDAY=${[1, 15, -1][pick(3)]};COUNT=${1 + pick(6)}`,
  (pick) => `FREQ=WEEKLY;INTERVAL=${1 + pick(4)};COUNT=${1 + pick(9)}`,
  (pick) => `FREQ=WEEKLY;BYDAY=${["MO,WE", "SA,SU", "FR"][pick(3)]};COUNT=${1 + pick(9)}`,
  (pick) => `FREQ=DAILY;INTERVAL=${1 + pick(20)};COUNT=${1 + pick(9)}`,
  (pick) => `FREQ=YEARLY;UNTIL=${2026 + pick(3)}1231`,
];

function made(pick, number) {
  const calendar = new ICAL.Component("vcalendar");
  calendar.updatePropertyWithValue("prodid", "-//others//EN");
  calendar.updatePropertyWithValue("version", "2.0");
  const event = new ICAL.Component("vevent");
  const start = new ICAL.Time({ year: 2026, month: 1 + pick(12), day: 1 + pick(28), isDate: true });
  event.updatePropertyWithValue("uid", `closed-${number}@others`);
  event.updatePropertyWithValue("dtstamp", ICAL.Time.fromDateTimeString("2026-01-01T00:00:00Z"));
  event.updatePropertyWithValue("dtstart", start);
  event.updatePropertyWithValue("summary", "Closed; \"all\" day, whole clinic ".repeat(1 + pick(3)));
  event.updatePropertyWithValue("rrule", ICAL.Recur.fromString(RULES[pick(RULES.length)](pick)));
  calendar.addSubcomponent(event);
  const all = days(event);
  if (all.length > 2 && pick(2)) {
    event.addPropertyWithValue("exdate", ICAL.Time.fromDateString(all[1]));
  }
  return { text: calendar.toString(), days: days(event) };
}

function days(event) {
  const found = [];
  const next = new ICAL.Event(event).iterator();
  for (let day = next.next(); day && day.year <= 2028 && found.length < 400; day = next.next()) found.push(day.toString());
  return found;
}

const [what, ...rest] = process.argv.slice(2);
if (what === "read") {
  const text = fs.readFileSync(rest[0], "utf8");
  console.log(JSON.stringify({ icalJs: byIcalJs(text), nodeIcal: byNodeIcal(text) }));
} else {
  const pick = numbers(Number(rest[0]));
  console.log(JSON.stringify(Array.from({ length: Number(rest[1]) }, (_, i) => made(pick, i))));
}
