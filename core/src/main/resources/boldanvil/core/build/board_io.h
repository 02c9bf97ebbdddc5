/*
 * What the generated code needs of a board. Whoever brings it to a new board implements these functions; nothing else
 * touches hardware. Units of a kind count from 0 in the order of the board file, and so do channels and pins. All functions
 * return at once.
 */
#ifndef BOARD_IO_H
#define BOARD_IO_H

#include <stdbool.h>
#include <stdint.h>

/* Sets the clocks: number of the source; dividers and factor of the phase-locked loop, all 0 where it is not used. */
void board_clock_setup(uint8_t source, uint16_t divide, uint16_t multiply, uint16_t post);
/* Divides the clock of a domain. */
void board_clock_divide(uint8_t domain, uint16_t divider);

/* Sets an analog input: number of the sampling time, number of the trigger in the board file. */
void board_adc_setup(uint8_t unit, uint8_t channel, uint8_t sampling, uint8_t trigger);
/* The newest count of an analog input. */
uint16_t board_adc_read(uint8_t unit, uint8_t channel);
/* Sets the count of an analog output. */
void board_dac_write(uint8_t unit, uint16_t count);

/* Sets a PWM timer: clock divider, counts of a period (of half a period when centre aligned), alignment, phase in counts. */
void board_pwm_setup(uint8_t timer, uint16_t prescaler, uint32_t period, bool centre, uint32_t phase);
/* Makes a timer's outputs pairs, with dead time in counts of its clock behind a divider, before they are first switched on. */
void board_pwm_dead_time(uint8_t timer, uint16_t prescaler, uint16_t count);
/* Lets a timer's trip input switch its outputs off. */
void board_pwm_trip(uint8_t timer);
/* Whether the trip input holds a timer's outputs off. */
bool board_pwm_tripped(uint8_t timer);
/* Sets the compare count of a PWM channel, 0 to the period; it takes effect with the next period. */
void board_pwm_write(uint8_t timer, uint8_t channel, uint32_t compare);
/* Makes a timer's outputs rest at a level, until the next board_pwm_write. */
void board_pwm_rest(uint8_t timer, bool high);

/* Sets divider and period of a timer that puts out pulses of one half; period 0 for none. */
void board_pulse_write(uint8_t timer, uint16_t prescaler, uint32_t period);

/* Sets an encoder timer: its glitch filter in nanoseconds. */
void board_encoder_setup(uint8_t timer, uint16_t filter);
/* The counter of an encoder timer, counting fourfold and wrapping. */
uint32_t board_encoder_read(uint8_t timer);
/* Whether the index was seen since the start, and the counter when it was first. */
bool board_encoder_index(uint8_t timer, uint32_t *at);

/* Sets a timer that stamps edges: its clock divider. */
void board_capture_setup(uint8_t timer, uint16_t prescaler);
/* Counts of the newest whole period, 0 for none, and of its high part. */
uint32_t board_capture_read(uint8_t timer, uint32_t *high);
/* Counts from the newest falling edge at the first pin to the next rising edge at the second. */
uint32_t board_delay_read(uint8_t timer);

/* The counter of a timer that counts rising edges, wrapping. */
uint32_t board_counter_read(uint8_t timer);

/* What holds an open pin: 0 nothing, 1 up, 2 down. */
void board_digital_setup(uint8_t pin, uint8_t pull);
/* The level at a pin. */
bool board_digital_read(uint8_t pin);
void board_digital_write(uint8_t pin, bool level);
/* Has a pin interrupt latch edges. */
void board_edge_setup(uint8_t pin, bool rising, bool falling);
/* Whether an edge came that the levels at two reads do not show; forgets it. */
bool board_edge_take(uint8_t pin);

/* Sets a serial port's divisor, in units of its fraction. */
void board_serial_setup(uint8_t port, uint32_t divisor);
/* Sends bytes, unless others are still being sent. */
void board_serial_write(uint8_t port, const uint8_t *bytes, uint8_t length);
/* Whether as many bytes as asked for have come since the last time; they are the newest. */
bool board_serial_read(uint8_t port, uint8_t *bytes, uint8_t length);

/* Reads a register of a device on a bus; the address is passed over on SPI. The bytes are those of the last read where none come. */
void board_bus_read(uint8_t bus, uint8_t address, uint8_t number, uint8_t *bytes, uint8_t length);

/* Sets the bit time of a CAN controller. */
void board_can_setup(uint8_t unit, uint16_t prescaler, uint8_t quanta, uint8_t before_sample);
/* Sends a message from a mailbox, unless that still waits; bit 31 of the identifier tells an extended one. */
void board_can_write(uint8_t unit, uint8_t mailbox, uint32_t identifier, const uint8_t *bytes, uint8_t length);
/* Whether a message with this identifier has come to a mailbox since the last time, and its bytes. */
bool board_can_read(uint8_t unit, uint8_t mailbox, uint32_t identifier, uint8_t *bytes, uint8_t length);

/* Share of the processor the last tick took, in 1 / 10000. */
uint32_t board_load(void);
/* Ticks that were missed since the start. */
uint32_t board_overruns(void);
/* Bytes of stack never used. */
uint32_t board_stack_free(void);
/* 0 power, 1 watchdog, 2 brown-out, 3 command. */
uint8_t board_reset_cause(void);

/* Starts the watchdog: it times out after a number of counts of its clock behind a divider. */
void board_watchdog_setup(uint16_t prescaler, uint32_t reload);
/* Tells the watchdog that a tick was completed. */
void board_watchdog(void);

/* Implemented by the generated code; call board_start once, then board_tick from the timer interrupt. */
void board_start(void);
void board_tick(void);
/* Puts all outputs into their safe state; board_start does so first. */
void board_safe(void);

/* The memory that measurement and tuning work on. */
void *board_memory(void);

#endif
