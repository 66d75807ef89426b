/* The loops of kernels.mjs in plain C, for comparison: each writes into memory of its own, as ours do. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <time.h>

enum { ROWS = 10000000, WINDOW = 50 };

static double *x, *out;
/* Read after each loop, so that none of it can be left out. */
static volatile double kept;

static double milliseconds(void) {
  struct timespec now;
  clock_gettime(CLOCK_MONOTONIC, &now);
  return now.tv_sec * 1e3 + now.tv_nsec / 1e6;
}

static void sum_over(double divisor) {
  double sum = 0;
  for (int t = 0; t < ROWS; t++) {
    sum += x[t];
    if (t >= WINDOW) sum -= x[t - WINDOW];
    out[t] = t >= WINDOW - 1 ? sum / divisor : NAN;
  }
}
static void sum(void) { sum_over(1); }
static void mean(void) { sum_over(WINDOW); }

static void stdev(void) {
  double total = 0, squares = 0;
  for (int t = 0; t < ROWS; t++) {
    total += x[t];
    squares += x[t] * x[t];
    if (t >= WINDOW) {
      total -= x[t - WINDOW];
      squares -= x[t - WINDOW] * x[t - WINDOW];
    }
    out[t] = t >= WINDOW - 1 ? sqrt((squares - total * total / WINDOW) / (WINDOW - 1)) : NAN;
  }
}

static void ema(void) {
  double a = 2.0 / (WINDOW + 1), y = x[0];
  for (int t = 0; t < ROWS; t++) out[t] = y += a * (x[t] - y);
}

static void slope(void) {
  double squares = WINDOW * (WINDOW * WINDOW - 1) / 12.0, total = 0, weighted = 0;
  for (int t = 0; t < ROWS; t++) {
    if (t >= WINDOW) {
      weighted -= total - x[t - WINDOW];
      total -= x[t - WINDOW];
      weighted += (WINDOW - 1) * x[t];
    } else weighted += t * x[t];
    total += x[t];
    out[t] = t >= WINDOW - 1 ? (weighted - (WINDOW - 1) / 2.0 * total) / squares : NAN;
  }
}

/* By a queue of the rows that may still be the greatest. */
static void extreme(double sign) {
  int *queue = malloc(ROWS * sizeof *queue), head = 0, tail = 0;
  for (int t = 0; t < ROWS; t++) {
    while (tail > head && sign * x[queue[tail - 1]] <= sign * x[t]) tail--;
    queue[tail++] = t;
    if (queue[head] <= t - WINDOW) head++;
    out[t] = t >= WINDOW - 1 ? x[queue[head]] : NAN;
  }
  free(queue);
}
static void greatest(void) { extreme(1); }
static void least(void) { extreme(-1); }

static void lag(void) {
  out[0] = NAN;
  for (int t = 1; t < ROWS; t++) out[t] = x[t - 1];
}

static void returns(void) {
  out[0] = NAN;
  for (int t = 1; t < ROWS; t++) out[t] = x[t] / x[t - 1] - 1;
}

static void measure(const char *name, void (*loop)(void)) {
  double best = INFINITY;
  for (int run = 0; run < 3; run++) {
    double started = milliseconds();
    out = malloc(ROWS * sizeof *out);
    loop();
    double taken = milliseconds() - started;
    kept = out[ROWS - 1];
    free(out);
    if (taken < best) best = taken;
  }
  printf("%s %.1f\n", name, best);
}

int main(void) {
  x = malloc(ROWS * sizeof *x);
  for (int t = 0; t < ROWS; t++) x[t] = 100 + rand() / (double)RAND_MAX;
  measure("mean", mean);
  measure("sum", sum);
  measure("stdev", stdev);
  measure("ema", ema);
  measure("slope", slope);
  measure("min", least);
  measure("max", greatest);
  measure("lag", lag);
  measure("return", returns);
  return 0;
}
