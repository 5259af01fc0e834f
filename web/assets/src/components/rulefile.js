/** x-data="rulefile": the rules of a step, whose key is the field's name, are taken from a file of CSV or DMN. */
export default () => ({
  async take() {
    const [file] = this.$root.files;
    if (!file) return;
    const text = await file.text();
    this.$root.value = "";
    const form = file.name.toLowerCase().endsWith(".csv") ? "csv" : "dmn";
    this.$store.sheet.sending.table(`${this.$root.name}.${form}`, text);
  },
});
