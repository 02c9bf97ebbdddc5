/* Position, speed and current loop of the paddle drive, written by hand: the law of demo/larkmere-lock/parts/controller.json. */
#include "cascade.h"
#include <math.h>

static const double RATIO = 60.0 / 25e-3, T = 100e-6, TS = 1e-3;

static double limit(double low, double x, double high)
{
    return x < low ? low : (x > high ? high : x);
}

static double pi(double *integral, double kp, double ki, double e, double limits, double t, bool reset)
{
    double wanted = kp * e + *integral;
    double growth = ki * e * t;
    double out = limit(-limits, wanted, limits);
    if (reset) {
        *integral = 0.0;
    } else if (!((wanted > limits && growth > 0.0) || (wanted < -limits && growth < 0.0))) {
        *integral += growth;
    }
    return out;
}

void cascade_init(cascade_t *c)
{
    *c = (cascade_t){0};
    double mass = 85.0 + 2.2e-5 * RATIO * RATIO;
    c->target = 0.4;
    c->kp_x = 12.0;
    c->kp_v = 120.0 * mass / (0.042 * RATIO);
    c->ki_v = c->kp_v * 120.0 / 4.0;
    c->kp_i = 1500.0 * 0.9e-3;
    c->ki_i = 1500.0 * 0.6;
}

static void position_loop(cascade_t *c)
{
    double x = c->shaft_slow * (1.0 / RATIO);
    double v = (x - c->last) * 1000.0;
    double goal = c->run ? c->target : x;
    double ramped = limit(c->ramp - 0.12 * TS, goal, c->ramp + 0.12 * TS);
    c->ramp = c->run ? ramped : goal;
    c->position = x;
    c->speed = v;
    c->setpoint = c->ramp;
    double wanted = limit(-0.15, (c->ramp - x) * c->kp_x, 0.15);
    c->demand_next = pi(&c->int_v, c->kp_v, c->ki_v, wanted - v, 18.0, TS, !c->run);
    c->last = x;
}

void cascade_step(cascade_t *c)
{
    if (c->wait == 0) {
        c->demand = c->demand_next;
    }
    double a = (c->shunt_a - 1.65) * 20.0, b = (c->shunt_b - 1.65) * 20.0;
    double i = (a - b) * 0.5;
    c->current = i;
    c->latched = fabs(i) > 25.0 || (!c->reset && c->latched);
    c->fault = c->latched;
    c->run = c->enable && !c->latched;
    double u = pi(&c->int_i, c->kp_i, c->ki_i, c->demand - i, 24.0, T, !c->run);
    u = c->run ? u * (1.0 / 48.0) : 0.0;
    c->duty = u + 0.5;
    c->leg_a = limit(0.0, u + 0.5, 1.0);
    c->leg_b = limit(0.0, 0.5 - u, 1.0);
    if (c->wait == 0) {
        c->shaft_slow = c->shaft;
        position_loop(c);
        c->wait = 10;
    }
    c->wait--;
}
