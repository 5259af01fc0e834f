// What the pages' scripts ask of elements: it is there for the kinds of element that their
// selectors and attributes find.

/** Of fields, lists, dialogs and links alike. */
interface Found {
  readonly dataset: DOMStringMap;
  hidden: any;
  disabled: boolean;
  checked: boolean;
  defaultChecked: boolean;
  value: any;
  defaultValue: string;
  type: any;
  open: boolean;
  hash: string;
  src: any;
  href: any;
  form: any;
  files: any;
  list: any;
  readonly offsetParent: Element | null;
  requestSubmit(by?: any): void;
  options: any;
  selectedIndex: number;
  selectionStart: number;
  selectionEnd: number;
  style: any;
  sortable: unknown;
  focus(options?: FocusOptions): void;
  blur(): void;
  click(): void;
  select(): void;
  showModal(): void;
  close(): void;
  hidePopover(): void;
  setRangeText(text: string, start?: number, end?: number, mode?: string): void;
}

interface Element extends Partial<Found> {
  focus?(options?: FocusOptions): void;
}

interface EventTarget extends Partial<Found> {
  closest?(selector: string): HTMLElement;
  matches?(selector: string): boolean;
  id?: string;
  append?(...nodes: (Node | string)[]): void;
  querySelector?(selector: string): HTMLElement;
}

declare module "@alpinejs/csp";
