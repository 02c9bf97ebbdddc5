#ifndef CASCADE_H
#define CASCADE_H
#include <stdbool.h>
typedef struct {
    double shunt_a, shunt_b, shaft;
    bool enable, reset;
    double leg_a, leg_b;
    bool fault;
    double target, kp_x, kp_v, ki_v, kp_i, ki_i;
    double current, demand, duty, position, speed, setpoint;
    double last, ramp, int_v, int_i, demand_next, shaft_slow;
    bool run, latched;
    int wait;
} cascade_t;
void cascade_init(cascade_t *c);
void cascade_step(cascade_t *c);
#endif
