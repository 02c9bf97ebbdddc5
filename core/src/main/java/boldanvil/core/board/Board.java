package boldanvil.core.board;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A board as its file describes it; the components have the names they have in the file, see docs/formats.md. What a file leaves out
 * is empty here.
 *
 * @param watchdog null for none
 * @param emulator null for none
 * @param plc null for a board that is not programmed in the languages of IEC 61131-3
 * @param target null for a board that is no real-time target
 */
public record Board(String name, String title, Core core, Memory memory, ClockTree clock, Digital digital, SystemUnits system,
        Watchdog watchdog,
        List<Converter> converters, List<Timer> timers, List<AnalogOutput> analogOutputs, List<SerialPort> serialPorts, List<Bus> buses,
        List<Can> cans, List<Link> links, List<Pin> pins, Emulator emulator, Plc plc, Target target) {
    /** Prefix of the channels that are a pin by itself. */
    public static final String PIN_CHANNEL = "IO.";

    /**
     * The processor.
     *
     * @param bits width of its integers
     * @param floatBits widest floating point its hardware computes; 0 for none
     * @param instructions name of its instruction set, for people
     * @param cycles cost of what is not arithmetic
     * @param integer cost on integers up to the processor's width
     */
    public record Core(int bits, int floatBits, String instructions, Cycles cycles, Arithmetic integer, Arithmetic float32,
            Arithmetic float64) {}

    /** Cost in processor cycles. */
    public record Cycles(double load, double store, double branch, double call, double select, double element, double interrupt) {}

    /** Cost of arithmetic on one type, in processor cycles. */
    public record Arithmetic(double add, double multiply, double divide, double compare, double convert, double root) {}

    /**
     * @param stackBytes set aside for the stack within RAM
     * @param flashAddress where flash begins, for images made outside of a stand-in
     */
    public record Memory(long flashBytes, long ramBytes, long stackBytes, long flashAddress, long ramAddress) {}

    /**
     * A program of this machine that runs images for the board's processor, instruction by instruction.
     *
     * @param machine what it calls the machine
     * @param flags what the cross compiler must know of the processor
     * @param serialAddress where that machine has its serial port
     * @param timerHertz frequency of its system timer
     */
    public record Emulator(String machine, List<String> flags, long serialAddress, double timerHertz) {
        public Emulator {
            flags = copy(flags);
        }
    }

    /**
     * A device that is programmed in the languages of IEC 61131-3.
     *
     * @param inputBytes size of the process image of its inputs
     * @param memoryBytes size of its memory with addresses
     * @param leastIntervalNanos the shortest interval of a task
     * @param longReal whether it has LREAL
     * @param links protocols by which its tags are reached
     */
    public record Plc(int inputBytes, int outputBytes, int memoryBytes, long leastIntervalNanos, boolean longReal, List<String> links) {
        public Plc {
            links = copy(links);
        }
    }

    /**
     * A computer that runs whole parts in real time and meets the outside by channels.
     *
     * @param leastStepNanos the shortest step of a core
     * @param stampNanos resolution of the instants of edges
     * @param logBytes memory for values that are logged in each step
     */
    public record Target(int cores, long leastStepNanos, long stampNanos, long logBytes, List<Channels> channels) {
        public Target {
            channels = copy(channels);
        }
    }

    /**
     * Channels of one kind, numbered from 1.
     *
     * @param kind as {@code ChannelKind} of {@code boldanvil.core.target} names it
     * @param prefix of their names, such as {@code AO}
     * @param volts they reach from minus to plus this; 0 for channels that are not analog
     * @param bits of an analog channel
     * @param delayNanos conversion and settling
     */
    public record Channels(String kind, String prefix, int count, double volts, int bits, long delayNanos) {}

    /** @param pulls what can hold an open pin: none, up, down */
    public record Digital(double highVolts, List<String> pulls) {
        public Digital {
            pulls = copy(pulls);
        }
    }

    /**
     * @param dmaStreams transfers that can continue beside the processor
     * @param priorities of interrupts
     * @param interruptLines pins share these: a pin's position modulo their number
     */
    public record SystemUnits(int dmaStreams, int priorities, int interruptLines) {}

    public record Watchdog(String name, double hertz, List<Integer> prescalers, int bits) {
        public Watchdog {
            prescalers = copy(prescalers);
        }
    }

    /** A channel of a converter or timer with the pins it can come out at. */
    public record PinChannel(String id, List<String> pins, List<String> complements) {
        public PinChannel {
            pins = copy(pins);
            complements = copy(complements);
        }
    }

    /**
     * An analog to digital converter; its channels are converted one after the other.
     *
     * @param referenceVolts voltage at full scale
     * @param samplingCycles choices for the time the input is sampled, in cycles of its clock
     * @param conversionCycles what follows
     * @param triggers moments at which a conversion can begin
     */
    public record Converter(String name, String clock, int bits, double referenceVolts, List<Double> samplingCycles,
            double conversionCycles,
            List<String> triggers, List<PinChannel> channels) {
        public Converter {
            samplingCycles = copy(samplingCycles);
            triggers = copy(triggers);
            channels = copy(channels);
        }
    }

    /** Dead time is counted in {@code bits} bits behind a divider. */
    public record DeadTime(int bits, List<Integer> prescalers) {
        public DeadTime {
            prescalers = copy(prescalers);
        }
    }

    /**
     * A timer.
     *
     * @param uses what it can do: pwm, three-phase, pulse, encoder, capture, counter
     * @param deadTime null when it makes none
     * @param filterNanos shortest pulses its inputs can be set to accept
     * @param trip pins that shut its outputs off
     * @param index pins for an encoder's index track
     */
    public record Timer(String name, String clock, int bits, List<Integer> prescalers, List<String> uses, DeadTime deadTime,
            List<Double> filterNanos,
            List<String> trip, List<String> index, List<PinChannel> channels) {
        public Timer {
            prescalers = copy(prescalers);
            uses = copy(uses);
            filterNanos = copy(filterNanos);
            trip = copy(trip);
            index = copy(index);
            channels = copy(channels);
        }

        /** The greatest count. */
        public long top() {
            return (1L << bits) - 1;
        }
    }

    public record AnalogOutput(String name, int bits, double referenceVolts, List<String> pins) {
        public AnalogOutput {
            pins = copy(pins);
        }
    }

    /** @param fractionBits of the divisor; @param dma whether transfers take a stream */
    public record SerialPort(String name, String clock, int oversampling, int fractionBits, int divisorBits, boolean dma, List<String> out,
            List<String> in) {
        public SerialPort {
            out = copy(out);
            in = copy(in);
        }
    }

    /** @param kind I2C or SPI */
    public record Bus(String name, String kind, String clock, List<Double> hertz, List<Integer> dividers, List<String> pins) {
        public Bus {
            hertz = copy(hertz);
            dividers = copy(dividers);
            pins = copy(pins);
        }
    }

    public record Can(String name, String clock, List<Double> prescalers, List<Double> quanta, List<String> pins) {
        public Can {
            prescalers = copy(prescalers);
            quanta = copy(quanta);
            pins = copy(pins);
        }
    }

    /**
     * A way to measure or talk.
     *
     * @param overheadBytes each packet takes besides its values
     */
    public record Link(String name, String carries, double bytesPerSecond, int overheadBytes) {}

    /**
     * A pin.
     *
     * @param name as printed on the board
     * @param position number of the pin of the package
     * @param side north, east, south or west
     * @param digital null for yes
     * @param also what else is to know of it, for people
     */
    public record Pin(String name, int position, String side, Boolean digital, String also) {
        public Pin {
            digital = digital == null || digital;
            also = also == null ? "" : also;
        }
    }

    public Board {
        converters = copy(converters);
        timers = copy(timers);
        analogOutputs = copy(analogOutputs);
        serialPorts = copy(serialPorts);
        buses = copy(buses);
        cans = copy(cans);
        links = copy(links);
        pins = copy(pins);
        system = system == null ? new SystemUnits(0, 1, 1) : system;
    }

    static <T> List<T> copy(List<T> list) {
        return list == null ? List.of() : List.copyOf(list);
    }

    public Optional<Timer> timer(String timerName) {
        return timers.stream().filter(t -> t.name().equals(timerName)).findFirst();
    }

    public Optional<Converter> converter(String converterName) {
        return converters.stream().filter(c -> c.name().equals(converterName)).findFirst();
    }

    public Optional<AnalogOutput> analogOutput(String outputName) {
        return analogOutputs.stream().filter(c -> c.name().equals(outputName)).findFirst();
    }

    /** Number of a channel's timer, from 0. */
    public int timerNumber(Channel c) {
        return timers.stream().map(Timer::name).toList().indexOf(c.unit());
    }

    /** Number of a channel within its timer, from 0; 0 where it is the whole timer. */
    public int outputNumber(Channel c) {
        return Math.max(0, timer(c.unit()).orElseThrow().channels().stream().map(x -> c.unit() + "." + x.id()).toList().indexOf(c.id()));
    }

    /** Number of a channel's converter, from 0. */
    public int converterNumber(Channel c) {
        return converters.stream().map(Converter::name).toList().indexOf(c.unit());
    }

    /** Number of a channel within its converter, from 0. */
    public int inputNumber(Channel c) {
        return converter(c.unit()).orElseThrow().channels().stream().map(x -> c.unit() + "." + x.id()).toList().indexOf(c.id());
    }

    public int serialNumber(Channel c) {
        return serialPorts.stream().map(SerialPort::name).toList().indexOf(c.unit());
    }

    public int busNumber(Channel c) {
        return buses.stream().map(Bus::name).toList().indexOf(c.unit());
    }

    public int canNumber(Channel c) {
        return cans.stream().map(Can::name).toList().indexOf(c.unit());
    }

    public int analogOutputNumber(Channel c) {
        return analogOutputs.stream().map(AnalogOutput::name).toList().indexOf(c.unit());
    }

    public boolean hasPin(String pin) {
        return pinNumber(pin) >= 0;
    }

    /** Number of a pin in the order of the file, from 0; -1 when there is none of this name. */
    public int pinNumber(String pin) {
        for (int i = 0; i < pins.size(); i++) {
            if (pins.get(i).name().equals(pin)) {
                return i;
            }
        }
        return -1;
    }

    /** What a pin is for, as the peripherals name it, for people. */
    public List<String> functionsOf(String pin) {
        List<String> all = new ArrayList<>();
        converters.forEach(c -> c.channels().stream().filter(x -> x.pins().contains(pin)).forEach(x -> all.add(c.name() + "." + x.id())));
        timers.forEach(t -> {
            t.channels().forEach(x -> {
                if (x.pins().contains(pin)) {
                    all.add(t.name() + "." + x.id());
                }
                if (x.complements().contains(pin)) {
                    all.add(t.name() + "." + x.id() + " complement");
                }
            });
            if (t.trip().contains(pin)) {
                all.add(t.name() + " trip");
            }
            if (t.index().contains(pin)) {
                all.add(t.name() + " index");
            }
        });
        analogOutputs.stream().filter(o -> o.pins().contains(pin)).forEach(o -> all.add(o.name()));
        serialPorts.forEach(s -> {
            if (s.out().contains(pin)) {
                all.add(s.name() + " out");
            }
            if (s.in().contains(pin)) {
                all.add(s.name() + " in");
            }
        });
        buses.stream().filter(b -> b.pins().stream().anyMatch(w -> List.of(w.split(",")).contains(pin)))
                .forEach(b -> all.add(b.name() + " " + b.kind()));
        cans.stream().filter(c -> c.pins().stream().anyMatch(w -> List.of(w.split(",")).contains(pin)))
                .forEach(c -> all.add(c.name() + " CAN"));
        return all;
    }
}
