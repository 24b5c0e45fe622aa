import { describe, expect, it } from "vitest";
import { NO_RULES, readablePath, ruleParameters } from "./rules";

describe("rules of an import", () => {
  it("ask for the same audio once, and for nothing more", () => {
    expect(ruleParameters(NO_RULES, "")).toBe("once=true");
  });

  it("name the folder and what is wanted of it", () => {
    const rules = { ...NO_RULES, template: " {category}/{name} ", folderTags: true };
    expect(
      Object.fromEntries(new URLSearchParams(ruleParameters(rules, "Shed/wet & dry"))),
    ).toEqual({
      once: "true",
      folder: "Shed/wet & dry",
      template: "{category}/{name}",
      folder_tags: "true",
    });
    const others = { ...NO_RULES, titles: true, folderCategory: false, merge: true };
    expect(ruleParameters(others, "")).toBe(
      "once=true&titles=true&folder_category=false&merge=true",
    );
  });

  it("read paths without endings", () => {
    expect(readablePath("Shed/wet", "kick 01.take.wav")).toBe("Shed/wet/kick 01.take");
    expect(readablePath("", ".hidden")).toBe(".hidden");
  });
});
