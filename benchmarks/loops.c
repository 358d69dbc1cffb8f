/* The formulas of the closed-form projections as plain loops, to hold the kernels against.
   One thread or all: `threads` is given to OpenMP. Compiled by `benchmarks.loops`. */

#include <math.h>
#include <stdint.h>

#define PI 3.14159265358979323846

typedef struct {
    const double *points, *normals, *centroids;
    const int32_t *corners, *face_start;
    int64_t faces;
} Model;

/* One affine map for every corner: maps is (2, 4). */
void planar(const Model *m, const double *map, float *out, int threads) {
#pragma omp parallel for num_threads(threads)
    for (int64_t f = 0; f < m->faces; f++) {
        for (int32_t c = m->face_start[f]; c < m->face_start[f + 1]; c++) {
            const double *p = m->points + 3 * (int64_t)m->corners[c];
            out[2 * c] = map[0] * p[0] + map[1] * p[1] + map[2] * p[2] + map[3];
            out[2 * c + 1] = map[4] * p[0] + map[5] * p[1] + map[6] * p[2] + map[7];
        }
    }
}

/* Each face by the side it looks to most; x goes before y before z where they tie within 1e-6. */
void box(const Model *m, const double *axes, const double *maps, float *out, int threads) {
#pragma omp parallel for num_threads(threads)
    for (int64_t f = 0; f < m->faces; f++) {
        const double *n = m->normals + 3 * f;
        double x = axes[0] * n[0] + axes[1] * n[1] + axes[2] * n[2];
        double y = axes[3] * n[0] + axes[4] * n[1] + axes[5] * n[2];
        double z = axes[6] * n[0] + axes[7] * n[1] + axes[8] * n[2];
        double least = fmax(fabs(x), fmax(fabs(y), fabs(z))) - 1e-6 * sqrt(x * x + y * y + z * z);
        int side = fabs(x) >= least ? x < 0 : fabs(y) >= least ? 2 + (y < 0) : 4 + (z < 0);
        const double *map = maps + 8 * side;
        for (int32_t c = m->face_start[f]; c < m->face_start[f + 1]; c++) {
            const double *p = m->points + 3 * (int64_t)m->corners[c];
            out[2 * c] = map[0] * p[0] + map[1] * p[1] + map[2] * p[2] + map[3];
            out[2 * c + 1] = map[4] * p[0] + map[5] * p[1] + map[6] * p[2] + map[7];
        }
    }
}

static void into(const double *d, const double *p, double *q) {
    for (int k = 0; k < 3; k++)
        q[k] = d[4 * k] * p[0] + d[4 * k + 1] * p[1] + d[4 * k + 2] * p[2] + d[4 * k + 3];
}

/* s by the angle round the axis, t by the height (round = 0) or by the latitude; an angle follows its face's middle.
   datum is (3, 4), sheet (2, 3). */
void turned(const Model *m, const double *datum, const double *sheet, double along, double upward, int round,
            float *out, int threads) {
#pragma omp parallel for num_threads(threads)
    for (int64_t f = 0; f < m->faces; f++) {
        double q[3];
        into(datum, m->centroids + 3 * f, q);
        double middle = q[0] * q[0] + q[1] * q[1] <= 1e-6 ? 0.0 : atan2(q[1], q[0]);
        for (int32_t c = m->face_start[f]; c < m->face_start[f + 1]; c++) {
            into(datum, m->points + 3 * (int64_t)m->corners[c], q);
            double flat = q[0] * q[0] + q[1] * q[1], angle = middle;
            if (flat > 1e-6) {
                angle = atan2(q[1], q[0]);
                angle += angle - middle > PI ? -2 * PI : angle - middle < -PI ? 2 * PI : 0;
            }
            double s = along * angle, t = round ? upward * atan2(q[2], sqrt(flat)) : q[2];
            out[2 * c] = sheet[0] * s + sheet[1] * t + sheet[2];
            out[2 * c + 1] = sheet[3] * s + sheet[4] * t + sheet[5];
        }
    }
}
