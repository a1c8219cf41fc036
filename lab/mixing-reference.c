/* The mix as anybody would write it in C: every source into every listener, stereo, with gains that move in a straight
 * line. What the engine is timed against. Prints microseconds a block of 128 samples, the median of several runs.
 * cc -O3 -o mixing-reference mixing-reference.c; mixing-reference SIZE */
#include <stdio.h>
#include <stdlib.h>
#include <time.h>

#define BLOCK 128
#define MOST 64
#define BLOCKS 1500
#define RUNS 7

static float inputs[MOST][2][BLOCK], outputs[MOST][2][BLOCK];
static float gains[MOST][MOST][2], steps[MOST][MOST][2];

static void mix(int size) {
  for (int m = 0; m < size; m++)
    for (int side = 0; side < 2; side++) {
      float *out = outputs[m][side];
      for (int i = 0; i < BLOCK; i++) out[i] = 0;
      for (int n = 0; n < size; n++) {
        const float *in = inputs[n][side];
        const float gain = gains[m][n][side], step = steps[m][n][side];
        for (int i = 0; i < BLOCK; i++) out[i] += in[i] * (gain + step * (float)i);
      }
    }
}

static double now(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return 1e6 * (double)t.tv_sec + 1e-3 * (double)t.tv_nsec;
}

static int ascending(const void *a, const void *b) {
  const double x = *(const double *)a, y = *(const double *)b;
  return (x > y) - (x < y);
}

int main(int count, char **words) {
  const int size = count > 1 ? atoi(words[1]) : 16;
  double times[RUNS];
  if (size < 1 || size > MOST) return 1;
  for (int n = 0; n < size; n++)
    for (int side = 0; side < 2; side++)
      for (int i = 0; i < BLOCK; i++) inputs[n][side][i] = 0.1f * (float)((n * 7919 + side * 104729 + i * 31) % 2001 - 1000) / 1000;
  for (int m = 0; m < size; m++)
    for (int n = 0; n < size; n++)
      for (int side = 0; side < 2; side++) {
        gains[m][n][side] = 0.5f / (float)size;
        steps[m][n][side] = 1e-6f * (float)(m - n);
      }
  for (int run = 0; run < RUNS; run++) {
    const double began = now();
    for (int block = 0; block < BLOCKS; block++) {
      inputs[block % size][0][block % BLOCK] += 1e-7f;
      mix(size);
    }
    times[run] = (now() - began) / BLOCKS;
  }
  qsort(times, RUNS, sizeof times[0], ascending);
  /* The sum is printed so that no compiler leaves the work out. */
  double sum = 0;
  for (int m = 0; m < size; m++) sum += outputs[m][0][m % BLOCK];
  printf("%.3f %g\n", times[RUNS / 2], sum);
  return 0;
}
