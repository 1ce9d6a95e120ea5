/** Whether a file's format does not say in which unit its lengths are. */
export const saysNoUnit = (file: File) => /\.(bvh|csv)$/i.test(file.name);

/** Metres in each unit that is offered for such a file. */
export const fileUnits = [["1", "metres"], ["0.01", "centimetres"], ["0.001", "millimetres"], ["0.0254", "inches"], ["0.3048", "feet"]].map(([value = "", name = ""]) => ({ value, label: `lengths are in ${name}` }));
