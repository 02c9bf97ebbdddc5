#ifndef FOC_H
#define FOC_H
#include <stdbool.h>
typedef struct {
    double shunt_a, shunt_b, shaft, demand;
    double leg_a, leg_b, leg_c;
    double kp_d, ki_d, kp_q, ki_q, kp_w, ki_w;
    double id, iq, ia, ib, speed;
    double int_d, int_q, int_w, ramp, last_shaft, iq_next, w_next, iq_demand, w;
    bool began;
    int wait;
} foc_t;
void foc_init(foc_t *c);
void foc_step(foc_t *c);
#endif
