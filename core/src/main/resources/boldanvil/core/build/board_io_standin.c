/* The board functions of a stand-in: they read and write a register block that the bench process shares. */
#include "board_io.h"

#include <stddef.h>

struct standin_registers {
    uint32_t adc[4][16];
    uint32_t adc_sampling[4][16];
    uint32_t adc_trigger[4][16];
    uint32_t dac[4];
    uint32_t prescaler[8];
    uint32_t period[8];
    uint32_t centre[8];
    uint32_t phase[8];
    uint32_t dead_prescaler[8];
    uint32_t dead[8];
    uint32_t trip[8];
    uint32_t tripped[8];
    uint32_t rest[8];
    uint32_t compare[8][4];
    uint32_t encoder[8];
    uint32_t encoder_filter[8];
    uint32_t index_found[8];
    uint32_t index_at[8];
    uint32_t capture_prescaler[8];
    uint32_t capture_period[8];
    uint32_t capture_high[8];
    uint32_t delay[8];
    uint32_t counter[8];
    uint32_t pull[128];
    uint32_t level_in[128];
    uint32_t level_out[128];
    uint32_t edge_choice[128];
    uint32_t edge[128];
    uint32_t serial_divisor[4];
    uint32_t serial_out[4][64];
    uint32_t serial_in[4][64];
    uint32_t serial_fresh[4];
    uint32_t bus_address[4][8];
    uint32_t bus_number[4][8];
    uint32_t bus_bytes[4][8][4];
    uint32_t can_timing[2];
    uint32_t can_out[2][16][8];
    uint32_t can_in[2][16][8];
    uint32_t can_fresh[2][16];
    uint32_t clock[4];
    uint32_t clock_divider[8];
    uint32_t load;
    uint32_t overruns;
    uint32_t stack_free;
    uint32_t reset_cause;
    uint32_t watchdog_prescaler;
    uint32_t watchdog_reload;
    uint32_t watchdog;
};

typedef char standin_layout[sizeof(struct standin_registers) == 4 * @WORDS@ ? 1 : -1];
typedef char standin_watchdog[offsetof(struct standin_registers, watchdog) == 4 * (@WORDS@ - 1) ? 1 : -1];

static struct standin_registers *registers;

void standin_attach(struct standin_registers *block);

void standin_attach(struct standin_registers *block)
{
    registers = block;
}

void board_clock_setup(uint8_t source, uint16_t divide, uint16_t multiply, uint16_t post)
{
    registers->clock[0] = source;
    registers->clock[1] = divide;
    registers->clock[2] = multiply;
    registers->clock[3] = post;
}

void board_clock_divide(uint8_t domain, uint16_t divider)
{
    registers->clock_divider[domain & 7U] = divider;
}

void board_adc_setup(uint8_t unit, uint8_t channel, uint8_t sampling, uint8_t trigger)
{
    registers->adc_sampling[unit & 3U][channel & 15U] = sampling;
    registers->adc_trigger[unit & 3U][channel & 15U] = trigger;
}

uint16_t board_adc_read(uint8_t unit, uint8_t channel)
{
    return (uint16_t)registers->adc[unit & 3U][channel & 15U];
}

void board_dac_write(uint8_t unit, uint16_t count)
{
    registers->dac[unit & 3U] = count;
}

void board_pwm_setup(uint8_t timer, uint16_t prescaler, uint32_t period, bool centre, uint32_t phase)
{
    registers->prescaler[timer & 7U] = prescaler;
    registers->period[timer & 7U] = period;
    registers->centre[timer & 7U] = centre ? 1U : 0U;
    registers->phase[timer & 7U] = phase;
}

void board_pwm_dead_time(uint8_t timer, uint16_t prescaler, uint16_t count)
{
    registers->dead_prescaler[timer & 7U] = prescaler;
    registers->dead[timer & 7U] = count;
}

void board_pwm_trip(uint8_t timer)
{
    registers->trip[timer & 7U] = 1U;
}

bool board_pwm_tripped(uint8_t timer)
{
    return registers->trip[timer & 7U] != 0U && registers->tripped[timer & 7U] != 0U;
}

void board_pwm_write(uint8_t timer, uint8_t channel, uint32_t compare)
{
    registers->compare[timer & 7U][channel & 3U] = compare;
    registers->rest[timer & 7U] = 0U;
}

void board_pwm_rest(uint8_t timer, bool high)
{
    registers->rest[timer & 7U] = high ? 2U : 1U;
}

void board_pulse_write(uint8_t timer, uint16_t prescaler, uint32_t period)
{
    registers->prescaler[timer & 7U] = prescaler;
    registers->period[timer & 7U] = period;
}

void board_encoder_setup(uint8_t timer, uint16_t filter)
{
    registers->encoder_filter[timer & 7U] = filter;
}

uint32_t board_encoder_read(uint8_t timer)
{
    return registers->encoder[timer & 7U];
}

bool board_encoder_index(uint8_t timer, uint32_t *at)
{
    *at = registers->index_at[timer & 7U];
    return registers->index_found[timer & 7U] != 0U;
}

void board_capture_setup(uint8_t timer, uint16_t prescaler)
{
    registers->capture_prescaler[timer & 7U] = prescaler;
}

uint32_t board_capture_read(uint8_t timer, uint32_t *high)
{
    *high = registers->capture_high[timer & 7U];
    return registers->capture_period[timer & 7U];
}

uint32_t board_delay_read(uint8_t timer)
{
    return registers->delay[timer & 7U];
}

uint32_t board_counter_read(uint8_t timer)
{
    return registers->counter[timer & 7U];
}

void board_digital_setup(uint8_t pin, uint8_t pull)
{
    registers->pull[pin & 127U] = pull;
}

bool board_digital_read(uint8_t pin)
{
    return registers->level_in[pin & 127U] != 0U;
}

void board_digital_write(uint8_t pin, bool level)
{
    registers->level_out[pin & 127U] = level ? 1U : 0U;
}

void board_edge_setup(uint8_t pin, bool rising, bool falling)
{
    registers->edge_choice[pin & 127U] = (rising ? 1U : 0U) | (falling ? 2U : 0U);
}

bool board_edge_take(uint8_t pin)
{
    bool taken = registers->edge[pin & 127U] != 0U;
    registers->edge[pin & 127U] = 0U;
    return taken;
}

void board_serial_setup(uint8_t port, uint32_t divisor)
{
    registers->serial_divisor[port & 3U] = divisor;
}

void board_serial_write(uint8_t port, const uint8_t *bytes, uint8_t length)
{
    uint8_t i;
    for (i = 0U; i < length; i++) {
        registers->serial_out[port & 3U][i & 63U] = bytes[i];
    }
}

bool board_serial_read(uint8_t port, uint8_t *bytes, uint8_t length)
{
    bool fresh = registers->serial_fresh[port & 3U] != 0U;
    uint8_t i;
    for (i = 0U; i < length; i++) {
        bytes[i] = (uint8_t)registers->serial_in[port & 3U][i & 63U];
    }
    registers->serial_fresh[port & 3U] = 0U;
    return fresh;
}

void board_bus_read(uint8_t bus, uint8_t address, uint8_t number, uint8_t *bytes, uint8_t length)
{
    uint8_t device;
    uint8_t i;
    for (device = 0U; device < 8U; device++) {
        /* Addresses are kept plus one, so that 0 is nobody. */
        if (registers->bus_address[bus & 3U][device] == address + 1U && registers->bus_number[bus & 3U][device] == number) {
            for (i = 0U; i < length; i++) {
                bytes[i] = (uint8_t)registers->bus_bytes[bus & 3U][device][i & 3U];
            }
        }
    }
}

void board_can_setup(uint8_t unit, uint16_t prescaler, uint8_t quanta, uint8_t before_sample)
{
    registers->can_timing[unit & 1U] = (uint32_t)prescaler << 16 | (uint32_t)quanta << 8 | before_sample;
}

void board_can_write(uint8_t unit, uint8_t mailbox, uint32_t identifier, const uint8_t *bytes, uint8_t length)
{
    uint8_t i;
    (void)identifier;
    for (i = 0U; i < length; i++) {
        registers->can_out[unit & 1U][mailbox & 15U][i & 7U] = bytes[i];
    }
}

bool board_can_read(uint8_t unit, uint8_t mailbox, uint32_t identifier, uint8_t *bytes, uint8_t length)
{
    bool fresh = registers->can_fresh[unit & 1U][mailbox & 15U] != 0U;
    uint8_t i;
    (void)identifier;
    for (i = 0U; i < length; i++) {
        bytes[i] = (uint8_t)registers->can_in[unit & 1U][mailbox & 15U][i & 7U];
    }
    registers->can_fresh[unit & 1U][mailbox & 15U] = 0U;
    return fresh;
}

uint32_t board_load(void)
{
    return registers->load;
}

uint32_t board_overruns(void)
{
    return registers->overruns;
}

uint32_t board_stack_free(void)
{
    return registers->stack_free;
}

uint8_t board_reset_cause(void)
{
    return (uint8_t)registers->reset_cause;
}

void board_watchdog_setup(uint16_t prescaler, uint32_t reload)
{
    registers->watchdog_prescaler = prescaler;
    registers->watchdog_reload = reload;
}

void board_watchdog(void)
{
    registers->watchdog++;
}
