/** What a technician types of a point that is not under the cursor. */
import { expect, it } from "vitest";

import { namedReading } from "../src/bench/named";

const junctions = ["in", "OUT", "A"];
const parts = ["R1", "R2"];
const read = (text: string) => namedReading(text, junctions, parts);

it.each([
  ["A 3.87", { kind: "voltage", at: "A", against: "0" }, "3.87"],
  ["OUT=3V02", { kind: "voltage", at: "OUT", against: "0" }, "3V02"],
  ["out: -0.2 V", { kind: "voltage", at: "OUT", against: "0" }, "-0.2 V"],
  ["@A 3.87 V", { kind: "voltage", at: "A", against: "0" }, "3.87 V"],
  ["R1 200k", { kind: "resistance", part: "R1" }, "200k"],
  ["r2 OL", { kind: "resistance", part: "R2" }, "OL"],
  ["V(R2) 3.1", { kind: "voltage", across: "R2" }, "3.1"],
  ["I(R1)=57 uA", { kind: "current", through: "R1" }, "57 uA"],
  ["i(supply) 1.2mA", { kind: "current", through: "supply" }, "1.2mA"],
])("reads %s", (text, point, rest) => {
  expect(read(text)).toEqual({ point, text: rest });
});

it.each([
  "3.87",
  "200k",
  "R47",
  "about right",
  "A bit low",
  "B 3.87",
  "R9 1k",
  "A",
  "OL",
  "I(OUT) 1mA",
])("leaves %s as it is", (text) => {
  expect(read(text)).toBeNull();
});
