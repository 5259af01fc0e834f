// What fields hold, as JSON.
import assert from "node:assert/strict";
import { test } from "node:test";
import { actOf, isLate, keptIn, patchOf, valueOf, wrong } from "../src/values.js";

const field = (type, value, more = {}) => ({ dataset: { type, ...more }, value });

test("numbers are read as people write them", () => {
  for (const [typed, number] of [
    ["4", 4],
    ["+4", 4],
    ["−1,5", -1.5],
    [" .25 ", 0.25],
    ["×2", 2],
  ]) {
    assert.equal(valueOf(field("number", typed)), number, typed);
  }
});

test("what is no number is wrong, and nothing is nothing", () => {
  for (const typed of ["four", "1 2", "1.2.3", "-", "12345678901234567890"]) {
    assert.equal(valueOf(field("number", typed)), wrong, typed);
  }
  assert.equal(valueOf(field("number", "")), undefined);
  assert.equal(valueOf(field("number", "", { needed: "yes" })), wrong);
});

test("a factor, and a bracket in its place, are what the document has", () => {
  assert.deepEqual(valueOf(field("factor", "0.5")), { factor: 0.5 });
  assert.deepEqual(valueOf(field("bracket", "3", { from: "10" })), { from: 10, adds: 3 });
  assert.deepEqual(valueOf(field("bracket", "3", { from: "10", replaces: "b" })), {
    brackets: { b: { from: 10, adds: 3 } },
  });
});

test("words are words, and a yes is one", () => {
  assert.equal(valueOf(field(undefined, " as typed ")), " as typed ");
  assert.equal(valueOf({ dataset: { type: "bool" }, checked: true }), true);
});

test("numbers wait until they are left, words do not", () => {
  assert.equal(isLate(field("number", "1")), true);
  assert.equal(isLate(field(undefined, "a")), false);
  assert.equal(isLate(field(undefined, "a", { late: "" })), true);
});

test("what the server has is told of each kind of field", () => {
  assert.equal(keptIn({ type: "checkbox", defaultChecked: true }), "true");
  assert.equal(keptIn({ tagName: "SELECT", options: [{ value: "a" }, { value: "b", defaultSelected: true }] }), "b");
  assert.equal(keptIn({ defaultValue: "kept" }), "kept");
});

test("an act is read as a control says it", () => {
  assert.deepEqual(actOf("up"), { do: "up" });
  assert.deepEqual(actOf("add?path=/scales&kind=points"), { do: "add", path: "/scales", kind: "points" });
  assert.deepEqual(actOf("when?path=/a&at=&label=$value", "more & more"), {
    do: "when",
    path: "/a",
    at: "",
    label: "more & more",
  });
});

test("a patch is that of a button, of a choice, or of a box that is ticked or not", () => {
  const [on, off] = [[{ op: "add", path: "/a", value: 1 }], [{ op: "remove", path: "/a" }]];
  const control = (dataset, more) => ({ dataset, ...more });
  assert.deepEqual(patchOf(control({ patch: JSON.stringify(on) }, { type: "button" })), on);
  assert.deepEqual(patchOf(control({ patch: "$value" }, { value: JSON.stringify(off) })), off);
  const box = { patch: JSON.stringify(on), else: JSON.stringify(off) };
  assert.deepEqual(patchOf(control(box, { type: "checkbox", checked: true })), on);
  assert.deepEqual(patchOf(control(box, { type: "checkbox", checked: false })), off);
});
