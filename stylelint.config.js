// What styles are looked at for: mistakes and doubles; layout is the formatter's.
export default {
  extends: "stylelint-config-standard",
  rules: {
    "at-rule-no-unknown": [true, { ignoreAtRules: ["theme", "source", "utility", "apply"] }],
    "import-notation": null, // Tailwind reads plain ones
    "no-descending-specificity": null, // rules stand by what they are about
    "selector-class-pattern": null,
    "selector-id-pattern": null,
    "custom-property-pattern": null,
    "declaration-empty-line-before": null,
    "rule-empty-line-before": null,
    "comment-empty-line-before": null,
    "at-rule-empty-line-before": null,
    "custom-property-empty-line-before": null,
    "color-function-notation": null,
    "alpha-value-notation": null,
    "color-hex-length": null,
    "media-feature-range-notation": null,
    "declaration-block-no-redundant-longhand-properties": null,
    "no-duplicate-selectors": null,
  },
};
