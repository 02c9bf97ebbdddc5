/* Field-oriented control of the gate drive, written by hand: the law of demo/gate-drive/parts/controller.json. */
#include "foc.h"
#include <math.h>

static const double KP_I = 1.5e3 * 1.2e-3, KI_I = 1.5e3 * 0.35, U_LIMIT = 48.0 / 1.7321, T = 50e-6, TS = 500e-6;
static const double L = 1.2e-3, FLUX = 0.025, PAIRS = 4.0, RATED = 209.0;

static double limit(double low, double x, double high)
{
    return x < low ? low : (x > high ? high : x);
}

static double pi(double *integral, double kp, double ki, double e, double low, double high, double t)
{
    double wanted = kp * e + *integral;
    double growth = ki * e * t;
    if (!((wanted > high && growth > 0.0) || (wanted < low && growth < 0.0))) {
        *integral += growth;
    }
    return limit(low, wanted, high);
}

void foc_init(foc_t *c)
{
    *c = (foc_t){0};
    c->kp_d = c->kp_q = KP_I;
    c->ki_d = c->ki_q = KI_I;
    c->kp_w = 80.0 * 1.5e-3 * RATED / (1.5 * PAIRS * FLUX);
    c->ki_w = c->kp_w * 80.0 / 4.0;
}

static void speed_loop(foc_t *c)
{
    double speed = c->began ? (c->shaft - c->last_shaft) / TS : 0.0;
    c->last_shaft = c->shaft;
    c->began = true;
    c->speed = speed / RATED;
    c->ramp = limit(c->ramp - 20.0 * TS, c->demand, c->ramp + 20.0 * TS);
    c->iq_next = pi(&c->int_w, c->kp_w, c->ki_w, c->ramp - c->speed, -15.0, 15.0, TS);
    c->w_next = c->speed * PAIRS * RATED;
}

void foc_step(foc_t *c)
{
    if (c->wait == 0) {
        c->iq_demand = c->iq_next;
        c->w = c->w_next;
    }
    double a = (c->shunt_a - 1.65) * 20.0, b = (c->shunt_b - 1.65) * 20.0;
    c->ia = a;
    c->ib = b;
    double theta = c->shaft * PAIRS;
    theta -= floor(theta * (1.0 / 6.283185307179586) + 0.5) * 6.283185307179586;
    double cs = cos(theta), sn = sin(theta);
    double alpha = a, beta = (a + 2.0 * b) * 0.5773502691896258;
    c->id = alpha * cs + beta * sn;
    c->iq = beta * cs - alpha * sn;
    double ud = pi(&c->int_d, c->kp_d, c->ki_d, -c->id, -U_LIMIT, U_LIMIT, T) - c->w * L * c->iq;
    double uq = pi(&c->int_q, c->kp_q, c->ki_q, c->iq_demand - c->iq, -U_LIMIT, U_LIMIT, T) + c->w * (L * c->id + FLUX);
    double va = (ud * cs - uq * sn) * (1.0 / 48.0), vb = (ud * sn + uq * cs) * (1.0 / 48.0);
    double side = vb * 0.8660254037844386, u = va, v = -0.5 * va + side, w = -0.5 * va - side;
    double least = v < u ? v : u, greatest = v > u ? v : u;
    least = w < least ? w : least;
    greatest = w > greatest ? w : greatest;
    double shift = 0.5 - 0.5 * (least + greatest);
    c->leg_a = limit(0.0, u + shift, 1.0);
    c->leg_b = limit(0.0, v + shift, 1.0);
    c->leg_c = limit(0.0, w + shift, 1.0);
    if (c->wait == 0) {
        speed_loop(c);
        c->wait = 10;
    }
    c->wait--;
}
