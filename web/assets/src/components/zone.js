/** x-data="zone": an empty field (x-ref="zone") is filled with the time zone of this device. */
export default () => ({
  init() {
    this.$refs.zone.value ||= Intl.DateTimeFormat().resolvedOptions().timeZone;
  },
});
