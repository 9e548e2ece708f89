import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { defaultRecipe } from "../../core/recipe/schema";
import { openDatabase } from "../db/open";
import { media } from "../db/schema";
import { cleanName } from "../media/store";
import { asComplaint } from "./complaint";
import { dataFolder, permittedPath } from "./folders";
import { writeAside } from "./write-aside";

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), "sieve-files-"));
  mkdirSync(path.join(folder, "open"));
  mkdirSync(path.join(folder, "open-not"));
  writeFileSync(path.join(folder, "open", "a.png"), "a");
  writeFileSync(path.join(folder, "secret.png"), "s");
  writeFileSync(path.join(folder, "open-not", "b.png"), "b");
  symlinkSync(path.join(folder, "secret.png"), path.join(folder, "open", "link.png"));
  process.env.MELLOW_SIEVE_FOLDERS = path.join(folder, "open");
  process.env.MELLOW_SIEVE_DATA = path.join(folder, "data");
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe("permitted paths", () => {
  it("takes a file inside", () => expect(permittedPath(path.join(folder, "open", "a.png"))).toMatch(/a\.png$/));
  it.each(["secret.png", "open/../secret.png", "open/link.png", "open-not/b.png", "open/none.png", "open/a.png\0.png"])(
    "refuses %j",
    (name) => expect(() => permittedPath(`${folder}/${name}`)).toThrow(/permitted folder|zero byte/),
  );
  it("does not tell whether a file outside exists", () => {
    const say = (p: string) => {
      try {
        return permittedPath(p);
      } catch (error) {
        return (error as Error).message;
      }
    };
    expect(say("/etc/passwd")).toBe(say("/etc/none-such"));
  });
});

describe("names", () => {
  it.each([
    ["../../x.png", "x.png"],
    ["C:\\tmp\\y.mov", "y.mov"],
    ["a\u0000b\n.png", "ab.png"],
    ["", "untitled"],
    ["..", ".."],
  ])("%j becomes %j", (typed, clean) => expect(cleanName(typed)).toBe(clean));
});

describe("writeAside", () => {
  it("leaves the old file whole when writing fails, and no rest", () => {
    const target = path.join(folder, "kept.bin");
    writeAside(target, Buffer.from("first"));
    expect(() => writeAside(path.join(folder, "none", "x"), Buffer.from("y"))).toThrow();
    expect(() => writeAside(target, null as unknown as Uint8Array)).toThrow();
    expect(readFileSync(target, "utf8")).toBe("first");
    expect(readdirSync(folder).some((n) => n.endsWith(".part"))).toBe(false);
  });
});

describe("the data folder", () => {
  it("is told by its path when it cannot be made", () => {
    const file = path.join(folder, "a-file");
    writeFileSync(file, "");
    const was = process.env.MELLOW_SIEVE_DATA;
    process.env.MELLOW_SIEVE_DATA = path.join(file, "data");
    expect(() => dataFolder("media")).toThrow(/a-file\/data\/media cannot be made\. Set MELLOW_SIEVE_DATA/);
    process.env.MELLOW_SIEVE_DATA = was;
  });
});

describe("complaints", () => {
  it("says what to do about a full disk", () =>
    expect(asComplaint(Object.assign(new Error("x"), { code: "ENOSPC" })).message).toMatch(
      /disk is full; nothing was lost.*Free some space/,
    ));
  it("names the file that there are no rights to", () =>
    expect(asComplaint(Object.assign(new Error("x"), { code: "EACCES", path: "/mnt/plates/a.png" })).message).toMatch(
      /^\/mnt\/plates\/a\.png may not be read or written\. Check the rights/,
    ));
  it("say where a folder is named for a file, and a file for a folder", () => {
    const thrown = (work: () => void): unknown => {
      try {
        return work();
      } catch (error) {
        return error;
      }
    };
    const file = path.join(folder, "secret.png");
    expect(asComplaint(thrown(() => writeAside(folder, Buffer.from("x")))).message).toBe(`${folder} is a folder. Name a file.`);
    expect(asComplaint(thrown(() => mkdirSync(path.join(file, "in"), { recursive: true }))).message).toMatch(
      /secret\.png.*a file is in the way/,
    );
    expect(asComplaint(thrown(() => mkdirSync(file, { recursive: true }))).message).toMatch(/secret\.png.*a file is in the way/);
  });
  it("keeps what is inside the server to itself", () => expect(asComplaint(new Error("secret detail")).message).not.toMatch(/secret/));
});

describe("the database", () => {
  it("is told by its name when it is damaged, and left as it is", () => {
    const file = path.join(folder, "damaged.db");
    const damaged = "no database, however long it is. ".repeat(200);
    writeFileSync(file, damaged);
    expect(() => openDatabase(file)).toThrow(/damaged\.db is damaged\. Put a copy of it back/);
    expect(readFileSync(file, "utf8")).toBe(damaged);
  });
  it("opens twice, brings itself up to date, and holds foreign keys", () => {
    const file = path.join(folder, "t.db");
    const db = openDatabase(file);
    db.insert(media)
      .values({ id: "a".repeat(64), name: "n", bytes: 1, file: "f", info: {}, createdAt: 1 })
      .run();
    expect(() =>
      db.$client
        .prepare(
          "insert into shots (job_id, name, plate_id, recipe, view, created_at, updated_at) values (9, 'x', 'none', '{}', '{}', 1, 1)",
        )
        .run(),
    ).toThrow(/FOREIGN KEY/);
    db.$client.close();
    const again = openDatabase(file);
    expect(again.select().from(media).all()).toHaveLength(1);
    expect(again.$client.pragma("journal_mode", { simple: true })).toBe("wal");
    again.$client.close();
    expect(existsSync(file)).toBe(true);
  });
});

describe("shots", () => {
  it("save changes in one transaction, in order, and refuse an old revision", async () => {
    const { createJob, createShot, getShot, saveChange } = await import("../shots");
    const { addNote, completeEntry, keepVersion, listLog, pictureOfEntry, recipeOfEntry, changeVersion } = await import("../records");
    const { changeSchema, completedSchema, versionChangeSchema } = await import("../../core/documents/shot");
    const { database } = await import("../db/open");
    const info = {
      kind: "still",
      format: "png",
      codec: "png",
      width: 4,
      height: 4,
      frames: 1,
      firstNumber: 1,
      rate: null,
      pixelFormat: "rgb",
      layout: { kind: "rgb", bits: 8, alpha: false },
      reading: { transfer: "srgb", matrix: "bt709", range: "full", siting: "center" },
      stated: { transfer: false, matrix: true, range: true, siting: true },
      pixelAspect: 1,
      fieldOrder: "progressive",
      timecode: null,
      audio: null,
      warning: null,
    };
    database()
      .insert(media)
      .values({ id: "b".repeat(64), name: "p.png", bytes: 1, file: "p.png", info, createdAt: 1 })
      .run();
    const id = createShot(createJob("J"), "S", "b".repeat(64));
    const entry = { frame: 1, step: "Matte", what: "White point 100 → 80 %", before: null };
    const saved = saveChange(id, { recipe: defaultRecipe(), revision: 0, entry });
    expect(saved.revision).toBe(1);
    expect(() => saveChange(id, { recipe: defaultRecipe(), revision: 0, entry })).toThrow(/another window/);
    expect(listLog(id)).toHaveLength(1);
    const figures = { holes: 3, residue: 0, edgeLoss: 0.1, clearance: null, spill: 0 };
    // One pixel of PNG, as the page draws it.
    const thumb = `data:image/png;base64,${Buffer.from([0x89, 0x50, 0x4e, 0x47]).toString("base64")}`;
    expect(completeEntry(id, saved.entry!.id, { after: figures })).toMatchObject({ after: figures, picture: false });
    expect(completeEntry(id, saved.entry!.id, { thumb })).toMatchObject({ after: figures, restorable: true, picture: true });
    expect(completedSchema.safeParse({}).success).toBe(false);
    expect([...pictureOfEntry(id, saved.entry!.id).bytes]).toEqual([0x89, 0x50, 0x4e, 0x47]);
    expect(recipeOfEntry(id, saved.entry!.id)).toEqual(defaultRecipe());
    const note = addNote(id, { frame: 1, text: "100 % of the veil kept: director liked it" });
    expect(() => recipeOfEntry(id, note.id)).toThrow(/note/);
    expect(() => recipeOfEntry(id + 1, saved.entry!.id)).toThrow(/no such log entry/);
    expect(listLog(id, "veil director").map((e) => e.id)).toEqual([note.id]);
    expect(listLog(id, "white point").map((e) => e.id)).toEqual([saved.entry!.id]);
    // What stands for anything in a search is taken as a plain letter.
    expect(listLog(id, "v_il")).toEqual([]);
    expect(listLog(id, "nothing of the kind")).toEqual([]);
    const missing = { ...defaultRecipe(), scene: { ...defaultRecipe().scene, background: "c".repeat(64) } };
    expect(() => saveChange(id, { recipe: missing, revision: 1, entry })).toThrow(/no such plate/);
    expect(getShot(id)).toMatchObject({ revision: 1, proposed: null });
    const place = { x: 1, y: 2, width: 3, height: 4 };
    const notSolved = [{ kind: "half-open" as const, what: "A lid", place, outline: [{ x: 1, y: 2 }] }];
    const why = { ...entry, frame: 3, proposed: { reasons: ["By its noise"], notSolved } };
    expect(changeSchema.safeParse({ recipe: defaultRecipe(), revision: 1, entry: why }).success).toBe(true);
    const strange = { ...why, proposed: { ...why.proposed, more: 1 } };
    expect(changeSchema.safeParse({ recipe: defaultRecipe(), revision: 1, entry: strange }).success).toBe(false);
    saveChange(id, { recipe: defaultRecipe(), revision: 1, entry: why });
    saveChange(id, { recipe: defaultRecipe(), revision: 2, entry });
    expect(getShot(id).proposed).toEqual({ frame: 3, reasons: ["By its noise"], notSolved });
    expect(listLog(id).map((e) => e.proposed?.reasons.length)).toEqual([undefined, 1, undefined, undefined]);
    const one = keepVersion(id, { name: "first", recipe: defaultRecipe(), figures, frame: 1 });
    const two = keepVersion(id, { name: "second", recipe: defaultRecipe(), figures: null, frame: 1 });
    expect(two.number).toBe(2);
    expect(changeVersion(id, one.id, { name: "better" })).toMatchObject({ name: "better", figures });
    // Kept before its figures were measured, it gets them later.
    expect(changeVersion(id, two.id, { figures })).toMatchObject({ name: "second", figures });
    expect(() => changeVersion(id + 1, one.id, { name: "elsewhere" })).toThrow(/no such version/);
    for (const change of [{ name: "   " }, {}, { name: "both", figures }, { figures: null }])
      expect(versionChangeSchema.safeParse(change).success).toBe(false);
    expect(getShot(id).versions.map((v) => v.name)).toEqual(["second", "better"]);
  });
});
