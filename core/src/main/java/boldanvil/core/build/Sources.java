package boldanvil.core.build;

import boldanvil.core.board.Board;
import boldanvil.core.c.CGenerator;
import boldanvil.core.c.IntegratorGuide;
import boldanvil.core.escape.Escape;
import boldanvil.core.frame.CanMessage;
import boldanvil.core.frame.Dbc;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.output.CodeText;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.Frame;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.peripheral.Registers;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Every file generated for a part.
 *
 * @param files all files
 * @param compiled names of the C files that make the image
 */
public record Sources(List<GeneratedFile> files, List<String> compiled) {
    /** Flags of every compilation; contraction would change results. */
    public static final List<String> FLAGS = List.of("-std=c99", "-O2", "-Wall", "-Wextra", "-Wpedantic", "-Wconversion",
            "-Werror", "-ffp-contract=off");

    public Sources {
        files = List.copyOf(files);
        compiled = List.copyOf(compiled);
    }

    /** A hash of everything that is compiled: equal for equal sources, whatever the place or the time. */
    public String stamp() {
        var all = new StringBuilder();
        files.stream().filter(f -> f.name().endsWith(".c") || f.name().endsWith(".h") || f.name().endsWith(".ld"))
                .forEach(f -> all.append(f.name()).append('\0').append(f.text()).append('\0'));
        return Builder.sha256(all.toString());
    }

    /** The part alone, for the rig <em>code</em> or for whoever integrates it. */
    public static Sources of(Program program) {
        List<GeneratedFile> files = new ArrayList<>(CGenerator.C99.generate(program));
        List<String> compiled = List.of(program.name() + ".c");
        files.add(makefile(program, compiled));
        files.add(cmake(program, compiled));
        files.add(IntegratorGuide.of(program));
        return new Sources(files, compiled);
    }

    /** The part with the file of its board and the interface a porter implements. */
    public static Sources of(BoardSetup setup) {
        Program program = setup.program();
        List<GeneratedFile> files = new ArrayList<>(CGenerator.C99.generate(program));
        files.add(BoardFile.of(setup));
        files.add(resource("board_io.h"));
        files.add(resource("board_io_standin.c"));
        dbc(program).ifPresent(files::add);
        List<String> compiled = List.of(program.name() + ".c", BoardFile.name(setup.board()), "board_io_standin.c");
        files.add(makefile(program, compiled));
        files.add(cmake(program, compiled));
        files.add(IntegratorGuide.of(program));
        return new Sources(files, compiled);
    }

    /** The part as a bare image that runs on an emulator and exchanges its inputs and memory over a serial line. */
    public static Sources emulated(Program program, Board board) {
        List<GeneratedFile> files = new ArrayList<>(CGenerator.C99.generate(program));
        var memory = board.memory();
        files.add(resource("loop_start.c"));
        files.add(filled("loop_main.c", Map.of("PART", program.name(), "CONTEXT", CGenerator.contextType(program), "INPUTS",
                Integer.toString(Layout.of(program).inputBytes()),
                "UART", "0x" + Long.toHexString(board.emulator().serialAddress()))));
        files.add(filled("image.ld", Map.of("BOARD", Escape.cComment(board.title()), "FLASH",
                "0x" + Long.toHexString(memory.flashAddress()), "FLASHBYTES", Long.toString(memory.flashBytes()),
                "RAM", "0x" + Long.toHexString(memory.ramAddress()), "RAMBYTES", Long.toString(memory.ramBytes()), "STACKBYTES",
                Long.toString(memory.stackBytes()))));
        files.add(IntegratorGuide.of(program));
        return new Sources(files, List.of(program.name() + ".c", "loop_main.c", "loop_start.c"));
    }

    /** The messages a part sends and receives, as a DBC file; empty where there are none. */
    private static Optional<GeneratedFile> dbc(Program program) {
        Map<Long, CanMessage> messages = new LinkedHashMap<>();
        program.terminals().stream().filter(t -> Peripherals.of(t) instanceof Frame).map(Frame::message)
                .forEach(m -> messages.putIfAbsent(m.id(), m));
        return messages.isEmpty() ? Optional.empty() : Optional.of(new GeneratedFile(program.name() + ".dbc",
                Dbc.write(List.copyOf(messages.values())), Map.of()));
    }

    private static GeneratedFile filled(String name, Map<String, String> values) {
        String text = resource(name).text();
        for (var v : values.entrySet()) {
            text = text.replace("@" + v.getKey() + "@", v.getValue());
        }
        return new GeneratedFile(name, text, Map.of());
    }

    private static GeneratedFile makefile(Program program, List<String> compiled) {
        var t = new CodeText();
        t.line("# Builds " + Escape.hashComment(program.title()) + ".").line("CC ?= gcc")
                .line("CFLAGS ?= " + String.join(" ", FLAGS) + " -fPIC")
                .line("SOURCES = " + String.join(" ", compiled)).line("OBJECTS = $(SOURCES:.c=.o)").line("")
                .line(program.name() + ".so: $(OBJECTS)").line("\t$(CC) -shared -o $@ $(OBJECTS) -lm").line("")
                .line("%.o: %.c " + program.name() + ".h").line("\t$(CC) $(CFLAGS) -c -o $@ $<").line("")
                .line("clean:").line("\trm -f $(OBJECTS) " + program.name() + ".so").line("").line(".PHONY: clean");
        return t.file("Makefile");
    }

    private static GeneratedFile cmake(Program program, List<String> compiled) {
        var t = new CodeText();
        t.line("# Builds " + Escape.hashComment(program.title()) + ".").line("cmake_minimum_required(VERSION 3.13)")
                .line("project(" + program.name() + " C)")
                .line("link_libraries(m)").line("add_library(part_" + program.name() + " SHARED " + String.join(" ", compiled) + ")")
                .line("set_target_properties(part_" + program.name() + " PROPERTIES OUTPUT_NAME " + program.name()
                + " PREFIX \"\" SUFFIX \".so\" C_STANDARD 99 C_EXTENSIONS OFF)")
                .line("target_compile_options(part_" + program.name() + " PRIVATE " + String.join(" ", FLAGS.subList(1, FLAGS.size()))
                + ")");
        return t.file("CMakeLists.txt");
    }

    /** A file that lies beside this class. */
    static GeneratedFile resource(String name) {
        try (InputStream in = Sources.class.getResourceAsStream(name)) {
            return new GeneratedFile(name, new String(in.readAllBytes(), StandardCharsets.UTF_8)
                    .replace("@WORDS@", Integer.toString(Registers.WORDS)), Map.of());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
