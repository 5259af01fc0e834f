/** x-data="map": the map, in x-ref="box", is made larger and smaller in place; dragging pans it. */
export default () => ({
  scale: 1,
  size: null,
  zoom(by) {
    const svg = this.$refs.box.querySelector("svg");
    const { width, height } = (this.size ??= svg.viewBox.baseVal);
    this.scale = Math.min(3, Math.max(0.25, this.scale * by));
    svg.setAttribute("width", width * this.scale);
    svg.setAttribute("height", height * this.scale);
  },
  grab(event) {
    if (event.button !== 0 || event.target.closest("a")) return;
    const box = this.$refs.box;
    const { clientX: x, clientY: y } = event;
    const { scrollLeft: left } = box;
    const top = scrollY;
    const pan = (e) => {
      box.scrollLeft = left + x - e.clientX;
      scrollTo(scrollX, top + y - e.clientY);
    };
    box.setPointerCapture(event.pointerId);
    box.addEventListener("pointermove", pan);
    box.addEventListener("pointerup", () => box.removeEventListener("pointermove", pan), { once: true });
  },
  go() {
    location.assign(this.$el.value);
  },
});
