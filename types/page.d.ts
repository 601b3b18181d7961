// What the page's scripts take for granted: elements are found by id or by what is written on them, and are what the
// templates make them; events come from such elements. What is told between Python and the page is typed in models.d.ts.
interface ParentNode {
  querySelector(selectors: string): any;
  querySelectorAll(selectors: string): NodeListOf<any>;
}
interface NonElementParentNode {
  getElementById(id: string): any;
}
interface Document {
  getElementById(id: string): any;
  elementFromPoint(x: number, y: number): any;
  addEventListener(type: string, listener: (event: any) => void, options?: boolean | AddEventListenerOptions): void;
}
interface EventTarget {
  closest(selectors: string): any;
  matches(selectors: string): boolean;
  value: any;
  dataset: any;
  files: any;
  blur(): void;
  form: any;
  nextElementSibling: any;
  setAttribute(name: string, value: string): void;
}
interface Element {
  closest(selectors: string): any;
  style: any;
}
interface Window {
  bootstrap: any;
  htmx: any;
  deftarc: any;
}
declare const SwaggerUIBundle: any;
