import { describe, expect, it } from 'vitest';
import { Course, NotLightError, SharedCourse, StoppedError } from './course';

describe('the course of a task', () => {
  const forEver = { milliseconds: Infinity, isLight: false };

  it('goes on until it is stopped, from whichever thread', () => {
    const asking = new SharedCourse();
    const course = new Course(new SharedCourse(asking.memory), forEver);
    course.goOn(0.25);
    expect(asking.share).toBe(0.25);
    asking.stop();
    expect(() => course.goOn()).toThrow(StoppedError);
  });

  it('ends where its time is up: light work begins anew elsewhere, other work is refused', () => {
    const spent = (isLight: boolean) => new Course(new SharedCourse(), { milliseconds: -1, isLight });
    expect(() => spent(true).goOn()).toThrow(NotLightError);
    expect(() => spent(false).goOn()).toThrow('This takes longer than');
  });
});
