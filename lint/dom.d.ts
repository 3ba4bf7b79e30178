// What a page's module looks up by a selector or an id, or is told of by an event, is
// an element of the kind that its template has there; the browser tests show that it
// is. Checked here is what a module does with names, other modules, arguments and its
// own values.
interface Document {
  getElementById(id: string): any;
  readonly activeElement: any;
}
interface ParentNode {
  querySelector(selectors: string): any;
  querySelectorAll(selectors: string): NodeListOf<any>;
}
interface Element {
  closest(selectors: string): any;
}
interface UIEvent {
  readonly target: any;
}
interface SubmitEvent {
  readonly target: any;
  readonly submitter: any;
}
// Of a change.
interface EventTarget {
  closest(selectors: string): any;
  matches(selectors: string): boolean;
  dataset: DOMStringMap;
  files: FileList;
  form: HTMLFormElement;
  id: string;
  type: string;
  value: string;
}
