/** How a file's path and words become the fields of its sample. */
export interface ImportRules {
  /** How names are read, as {category}_{name}_{variation}; empty where they are names. */
  template: string;
  /** The title in a file becomes the sample's name. */
  titles: boolean;
  /** Names of folders become tags. */
  folderTags: boolean;
  /** Names of folders may say the category, where nothing else does. */
  folderCategory: boolean;
  /** A sample that has the same audio takes over what it lacks. */
  merge: boolean;
}

export const NO_RULES: ImportRules = {
  template: "",
  titles: false,
  folderTags: false,
  folderCategory: true,
  merge: false,
};

/** The rules and the folder of one file as the server is asked for them. */
export function ruleParameters(rules: ImportRules, folder: string): string {
  const asked = new URLSearchParams({ once: "true" });
  if (folder) asked.set("folder", folder.slice(0, 255));
  if (rules.template.trim()) asked.set("template", rules.template.trim());
  if (rules.titles) asked.set("titles", "true");
  if (rules.folderTags) asked.set("folder_tags", "true");
  if (!rules.folderCategory) asked.set("folder_category", "false");
  if (rules.merge) asked.set("merge", "true");
  return asked.toString();
}

/** A file's path below what was dropped or chosen, without its ending. */
export function readablePath(folder: string, fileName: string): string {
  const at = fileName.lastIndexOf(".");
  const plain = at > 0 ? fileName.slice(0, at) : fileName;
  return folder ? `${folder}/${plain}` : plain;
}
