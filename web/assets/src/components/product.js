import { handlePictures } from "../pictures.js";

/** x-data="product": the picture that is chosen for a product is put into its form, and into x-ref="shown". */
export default () => ({
  init() {
    const form = this.$root;
    const shown = this.$refs.shown;
    const patch = ([{ value }]) => {
      form.elements.picture.value = value.source;
      form.elements.description.value = value.description;
      shown.replaceChildren(Object.assign(new Image(), { src: value.source, alt: value.description }));
    };
    handlePictures({ flush() {}, sending: { patch } });
  },
});
