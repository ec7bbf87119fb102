export {};

declare global {
  class Go {
    importObject: WebAssembly.Imports;
    run(instance: WebAssembly.Instance): Promise<void>;
  }
  /** What cmd/wasm puts on the page: see there for the arguments. */
  var dynacorCore:
    | {
        open(runId: string, planJSON: string): string;
        again(runId: string): string;
        take(runId: string, eventsJSON: string, nowMillis: number): string;
        judge(runId: string, eventJSON: string, nowMillis: number): string;
        may(runId: string, peopleJSON: string, nowMillis: number): string;
        asks(runId: string, eventJSON: string, nowMillis: number): string;
        says(runId: string, eventJSON: string): string;
        typed(text: string, unit: string): string;
        walked(answersJSON: string, drawnJSON: string): string;
        noted(tag: string, words: string): string;
        like(tag: string, tagsJSON: string): string;
      }
    | undefined;
  /** What cmd/wasmlab puts in its worker. */
  var dynacorLab: ((name: string, questionJSON: string) => string) | undefined;
  /** What cmd/wasmcalc puts on the page. */
  var dynacorCalc:
    | {
        catalogue(words: string): string;
        calculate(name: string, requestJSON: string, cardsJSON: string): string;
        typed(text: string, unit: string): string;
        places(layoutJSON: string): string;
        family(familyJSON: string, variantJSON: string, figuresJSON: string): string;
      }
    | undefined;
}
