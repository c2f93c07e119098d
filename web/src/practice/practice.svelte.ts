/** One question at a time: put, measured, answered, explained; and how one does. */
import {
  answerQuestion,
  getProgress,
  getQuestion,
  measureBoard,
  putQuestion,
  type Drill,
  type MeasuredAnswer,
  type Picture,
  type PracticeAnswer,
  type PracticeProgress,
  type PracticeQuestion,
  type Refusal,
} from "$api";
import { Address } from "../shell/address";
import { Latest } from "../shell/latest";

export const DRILLS = [
  ["estimate", "Estimate"],
  ["series", "In series?"],
  ["fault", "Find the fault"],
] as const;
export const LEVELS = [1, 2, 3, 4, 5];
type Given = Parameters<typeof answerQuestion>[1];
type Reading = Parameters<typeof measureBoard>[1];
export type Asked = { level?: number; seed?: number; network?: string; supply_v?: string };

export class PracticeState {
  drill = $state<Drill>("estimate");
  question = $state.raw<PracticeQuestion | null>(null);
  readings = $state.raw<MeasuredAnswer[]>([]);
  answer = $state.raw<PracticeAnswer | null>(null);
  progress = $state.raw<PracticeProgress | null>(null);
  /** Why there is no question. */
  trouble = $state("");
  /** What is wrong with an answer or a reading; the question stands. */
  objection = $state("");
  busy = $state(false);
  /** Which step of the explanation is looked at. */
  at = $state(0);
  #latest = new Latest();
  #address = new Address("");
  #measuring: Promise<void> = Promise.resolve();

  line = $derived(
    this.progress?.drills.find((d) => d.drill === this.drill && d.level === this.question?.level) ??
      null,
  );
  level = $derived(
    this.question?.level ??
      this.progress?.drills.find((d) => d.drill === this.drill)?.next_level ??
      1,
  );
  nextLevel = $derived(
    this.progress?.drills.find((d) => d.drill === this.drill)?.next_level ?? this.level,
  );
  spent = $derived(this.readings.reduce((sum, reading) => sum + reading.effort, 0));
  blown = $derived(this.readings.at(-1)?.blown ?? []);

  /** What is drawn: the question, or the step of the explanation under the cursor. */
  picture = $derived.by((): Picture | null => {
    if (!this.answer) return this.question?.picture ?? null;
    if (this.answer.truth && this.question)
      return { ...this.question.picture, hot: this.answer.truth.refs };
    return (
      this.answer.steps[this.at]?.picture ??
      this.answer.pictures[this.at % Math.max(this.answer.pictures.length, 1)] ??
      this.question?.picture ??
      null
    );
  });
  /** How many steps, or ways of drawing it, there are to walk. */
  steps = $derived(
    this.answer?.pictures.length ? this.answer.pictures.length : (this.answer?.steps.length ?? 0),
  );

  async look(): Promise<void> {
    const { data } = await getProgress();
    if (data) this.progress = data;
  }

  /** Open a question that was put before, or put the next one, at the address one was led to. */
  async open(drill: Drill, id: number | null, address: string): Promise<void> {
    this.#address.arrive(address);
    if (drill === this.drill && id !== null && id === this.question?.id) return;
    this.drill = drill;
    if (!this.progress) await this.look();
    if (id === null) return this.put();
    this.busy = true;
    const found = await this.#latest.of(getQuestion(id));
    this.busy = false;
    if (!found) return;
    if (found.error?.status === 404) return this.put();
    if (found.error) this.#refused(found.error);
    else this.#show(found.data.question, found.data.readings, found.data.answer);
  }

  /** Put a question: by number, of one's own network, or what comes next. */
  async put(asked: Asked = {}): Promise<void> {
    this.busy = true;
    const level = asked.level ?? this.nextLevel;
    const found = await this.#latest.of(putQuestion(this.drill, { ...asked, level } as never));
    this.busy = false;
    if (!found) return;
    if (found.error) this.#refused(found.error);
    else this.#show(found.data, [], null);
  }

  #show(
    question: PracticeQuestion,
    readings: MeasuredAnswer[],
    answer: PracticeAnswer | null,
  ): void {
    this.question = question;
    this.readings = readings;
    this.answer = answer;
    this.trouble = this.objection = "";
    this.at = 0;
    this.#address.become(`/practice/${question.drill}/${question.id}`);
  }

  #refused(error: Refusal): void {
    this.trouble = error.errors[0]?.message ?? error.detail;
  }

  #objected(error: Refusal): void {
    this.objection = error.errors[0]?.message ?? error.detail;
  }

  async give(given: Omit<Given, "refs"> & { refs?: string[] }): Promise<void> {
    await this.#measuring;
    if (!this.question || this.answer || this.busy) return;
    this.busy = true;
    const { data, error } = await answerQuestion(this.question.id, { refs: [], ...given });
    this.busy = false;
    if (error) return this.#objected(error);
    this.objection = "";
    this.answer = data;
    this.at = 0;
    await this.look();
  }

  /** Readings are taken one after the other, as the keys were struck. */
  measure(reading: Reading): Promise<void> {
    this.#measuring = this.#measuring.then(() => this.#measure(reading));
    return this.#measuring;
  }

  async #measure(reading: Reading): Promise<void> {
    if (!this.question || this.answer) return;
    this.busy = true;
    const { data, error } = await measureBoard(this.question.id, reading);
    this.busy = false;
    if (error) return this.#objected(error);
    this.objection = "";
    this.readings = [...this.readings, data];
  }

  walk(step: number): void {
    this.at = Math.min(Math.max(this.at + step, 0), Math.max(this.steps - 1, 0));
  }
}
