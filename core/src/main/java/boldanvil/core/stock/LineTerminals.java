package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.real;
import static boldanvil.core.stock.Parameter.source;
import static boldanvil.core.stock.Parameter.text;

import boldanvil.core.frame.BusDevice;
import boldanvil.core.frame.BusDevices;
import boldanvil.core.frame.CanMessage;
import boldanvil.core.frame.Dbc;
import boldanvil.core.frame.FrameException;
import boldanvil.core.frame.PacketLayout;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Port;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import java.util.function.Supplier;

/** Terminals on lines and buses: packets, registers, messages. Each value is a wire of its own on the system sheet. */
final class LineTerminals {
    private static final String FRESH = "fresh";
    private static final String OWN = "own";

    /** The terminal's own device, or one of the list. */
    private static String[] devices() {
        return Stream.concat(Stream.of(OWN), BusDevices.all().stream().map(BusDevice::name)).toArray(String[]::new);
    }
    private static final String MESSAGE = """
            BO_ 291 drive: 8 controller
             SG_ speed : 0|16@1- (0.01,0) [-300|300] "rad/s" Anybody
             SG_ current : 16|16@1- (0.01,0) [-100|100] "A" Anybody
            """;

    private static Parameter[] packet() {
        return new Parameter[] {text("fields", "value: float32",
                "Names and types, separated by commas, such as level: float32, state: uint8."),
            choice("order", "Order of the bytes of a value.", "low byte first", "high byte first"),
            text("header", "AA", "First bytes, in hexadecimal."),
            choice("checksum", "Checksum of the packet: the sum of all bytes, CRC-16 (ITU-T V.41, from 0xFFFF) or CRC-32 (IEEE 802.3).",
            "CRC-16", "none", "sum", "CRC-32"),
            real("rate", "115200 Hz", "Hz", "Bits per second.").atLeast(1)};
    }

    private static PacketLayout layout(Settings s) {
        return PacketLayout.of(s.text("fields"), s.text("order"), s.text("header"), s.text("checksum"));
    }

    private static CanMessage message(Settings s) {
        return Dbc.find(s.text("dbc"), s.text("message"));
    }

    /** What a text that makes no sense stands for until it is corrected: nothing. */
    private static <T> List<T> orNone(Supplier<List<T>> list) {
        try {
            return list.get();
        } catch (FrameException e) {
            return List.of();
        }
    }

    /** Reports a text that makes no sense. */
    private static void check(Emitter e, Runnable read) {
        try {
            read.run();
        } catch (FrameException x) {
            e.problem(x.getMessage(), x.cure());
        }
    }

    private static TerminalPin fresh() {
        return new TerminalPin(FRESH, true, Type.BOOL, "", Port.Wire.NONE, 1);
    }

    private static Face outputs(List<String> names) {
        Face f = Face.NONE;
        for (String n : names) {
            f = f.out(n);
        }
        return f;
    }

    static final BlockType PACKET_OUT = BlockType.named("packet out", "Packet out", Family.TERMINAL)
            .help("Sends its inputs as a packet over a serial port, one after the other: header, fields without gaps, checksum. While a "
            + "packet is being sent, new values are "
                    + "skipped. The wires carry what arrives at the other end, when it has arrived.")
            .with(packet()).face(s -> {
                Face f = Face.NONE;
                for (var field : orNone(() -> layout(s).fields())) {
                    f = f.in(field.name(), field.type() == Type.BOOL ? Accept.LOGIC : Accept.OWN);
                }
                return f;
            }).summary("{fields}")
            .terminal(_ -> TerminalKind.PACKET_OUT, s -> orNone(() -> layout(s).fields()).stream()
            .map(f -> TerminalPin.out(f.name(), f.type(), "")).toList())
            .does(e -> {
                check(e, () -> layout(e));
                for (var f : orNone(() -> layout(e).fields())) {
                    e.output("pin " + f.name(), as(e.in(f.name()), f.type()));
                }
            });

    /** A value as a field's type; what is not a bool is true where it is not 0. */
    private static Expr as(Expr v, Type to) {
        return to == Type.BOOL && v.type() != Type.BOOL ? v.compare(Expr.Op.NE, Expr.of(v.type(), 0)) : v.as(to);
    }

    private static PacketLayout layout(Emitter e) {
        return PacketLayout.of(e.text("fields"), e.text("order"), e.text("header"), e.text("checksum"));
    }

    static final BlockType PACKET_IN = BlockType.named("packet in", "Packet in", Family.TERMINAL)
            .help("Receives packets over a serial port, as Packet out sends them. The outputs keep the values of the last packet with the "
            + "right header and checksum; fresh is true in "
                    + "the step in which one came.")
            .with(packet()).face(s -> {
                var names = new ArrayList<>(orNone(() -> layout(s).fields()).stream().map(PacketLayout.Field::name).toList());
                names.add(FRESH);
                return outputs(names);
            }).summary("{fields}")
            .types((o, _, s, _) -> {
                var fields = orNone(() -> layout(s).fields());
                return o < fields.size() ? fields.get(o).type() : Type.BOOL;
            })
            .terminal(_ -> TerminalKind.PACKET_IN, s -> {
                var pins = new ArrayList<>(orNone(() -> layout(s).fields()).stream().map(f -> TerminalPin.in(f.name(), f.type(), ""))
                        .toList());
                pins.add(fresh());
                return pins;
            })
            .does(e -> {
                check(e, () -> layout(e));
                for (var f : orNone(() -> layout(e).fields())) {
                    e.output(f.name(), e.in("pin " + f.name()));
                }
                e.output(FRESH, e.in("pin " + FRESH));
            });

    static final BlockType REGISTER_IN = BlockType.named("register in", "Register in", Family.TERMINAL)
            .help("Reads a register of a device on an I²C or SPI bus in each step: y = count · scale + offset, limited to the range of "
            + "its bytes. The wire carries what the device "
                    + "measures; the device looks at it once in each update time. The level sensor is a device at Larkmere: address 0x29, "
                    + "register 0x10, 16 bits, high byte first, "
                    + "millimetres, a new value every 20 ms.")
            .with(choice("bus", "Kind of the bus.", "I2C", "SPI"), choice("device",
            "The device; a device from the list sets all parameters below.", devices()),
                    text("address", "0x29", "Address on an I²C bus, 7 bits."), text("register", "0x00", "Number of the register."),
                    choice("bytes", "Bytes of the register.", "2", "1", "4"),
                    choice("sign", "Whether its count is signed.", "unsigned", "signed"),
                    choice("order", "Order of its bytes.", "high byte first", "low byte first"),
                    real("scale", "1", "units", "Value of one count."), real("offset", "0", "units", "Value at count 0."),
                    real("update", "0 s", "s", "Time between two measurements of the device.").atLeast(0).atMost(60),
                    real("rate", "100 kHz", "Hz", "Maximum rate of the bus, bits per second.").atLeast(1), text("unit", "", "Unit of y."))
            .face(Face.NONE.out("y")).summary(s -> BusDevices.find(s.text("device")).map(d -> d.name() + ", " + d.unit())
                    .orElseGet(() -> s.text("bus") + " " + s.text("address") + ", " + s.text("register"))).real()
            .terminal(s -> s.text("bus").equals("SPI") ? TerminalKind.SPI_IN : TerminalKind.I2C_IN,
            _ -> List.of(TerminalPin.in("", null, "")))
            .does(e -> {
                if (e.value("scale") == 0) {
                    e.problem("The scale is 0.", "Enter the value of one count.");
                }
                for (String p : List.of("address", "register")) {
                    try {
                        int v = Integer.decode(e.text(p).strip());
                        if (v < 0 || v > (p.equals("address") ? 0x7F : 0xFF)) {
                            e.problem("The " + p + " " + e.text(p) + " is out of range.",
                                    "Choose 0 to " + (p.equals("address") ? "0x7F" : "0xFF") + ".");
                        }
                    } catch (NumberFormatException x) {
                        e.problem("'" + e.text(p) + "' is not a whole number.", "Write it like 41 or 0x29.");
                    }
                }
                e.output("y", e.in("pin"));
            });

    private static Parameter[] frame() {
        return new Parameter[] {text("message", "", "Name of the message; left empty, the first of the text."),
            source("dbc", MESSAGE, "Messages and signals as a DBC file states them: start bit, length, byte order, factor and offset."),
            real("rate", "500 kHz", "Hz", "Bits per second of the bus.").atLeast(1)};
    }

    private static CanMessage message(Emitter e) {
        return Dbc.find(e.text("dbc"), e.text("message"));
    }

    static final BlockType FRAME_OUT = BlockType.named("frame out", "CAN frame out", Family.TERMINAL)
            .help("Sends its inputs as the signals of a CAN message, packed as a DBC text says: count = (value − offset) / factor to the "
            + "nearest, limited to the range of its bits. "
                    + "The wires carry what arrives.")
            .with(frame()).face(s -> {
                Face f = Face.NONE;
                for (var signal : orNone(() -> message(s).signals())) {
                    f = f.in(signal.name(), Accept.REAL);
                }
                return f;
            }).summary(LineTerminals::summary)
            .terminal(_ -> TerminalKind.FRAME_OUT, s -> orNone(() -> message(s).signals()).stream()
            .map(g -> TerminalPin.out(g.name(), null, g.unit())).toList())
            .does(e -> {
                check(e, () -> message(e));
                for (var g : orNone(() -> message(e).signals())) {
                    e.output("pin " + g.name(), e.in(g.name()));
                }
            });

    private static String summary(Settings s) {
        try {
            var m = message(s);
            return m.name() + " " + m.id() + ": " + String.join(", ", m.signals().stream().map(CanMessage.Signal::name).toList());
        } catch (FrameException e) {
            return "no message";
        }
    }

    static final BlockType FRAME_IN = BlockType.named("frame in", "CAN frame in", Family.TERMINAL)
            .help("Receives a CAN message; its signals are unpacked as a DBC text says: value = count · factor + offset. The outputs keep "
            + "the last message; fresh is true in the step in "
                    + "which one came.")
            .with(frame()).face(s -> {
                var names = new ArrayList<>(orNone(() -> message(s).signals()).stream().map(CanMessage.Signal::name).toList());
                names.add(FRESH);
                return outputs(names);
            }).summary(LineTerminals::summary)
            .types((o, _, s, real) -> o < orNone(() -> message(s).signals()).size() ? real : Type.BOOL)
            .terminal(_ -> TerminalKind.FRAME_IN, s -> {
                var pins = new ArrayList<>(orNone(() -> message(s).signals()).stream().map(g -> TerminalPin.in(g.name(), null, g.unit()))
                        .toList());
                pins.add(fresh());
                return pins;
            })
            .does(e -> {
                check(e, () -> message(e));
                for (var g : orNone(() -> message(e).signals())) {
                    e.output(g.name(), e.in("pin " + g.name()));
                }
                e.output(FRESH, e.in("pin " + FRESH));
            });

    static final List<BlockType> TYPES = List.of(PACKET_OUT, PACKET_IN, REGISTER_IN, FRAME_OUT, FRAME_IN);

    private LineTerminals() {}
}
