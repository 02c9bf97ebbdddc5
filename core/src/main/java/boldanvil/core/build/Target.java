package boldanvil.core.build;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import java.util.ArrayList;
import java.util.List;

/**
 * What images are made for.
 *
 * @param compiler program name of the C compiler
 * @param size program that prints sizes
 * @param cure how to get them
 * @param compile flags of each compilation, after {@link Sources#FLAGS}
 * @param linking flags of linking, before the objects
 * @param libraries flags after the objects
 * @param ending of the image's file name
 */
public record Target(String compiler, String size, String cure, List<String> compile, List<String> linking, List<String> libraries,
        String ending) {
    /** The cross compiler for bare Arm processors. */
    public static final String BARE_ARM = "arm-none-eabi-gcc";

    /** This machine: a library that stand-ins and code rigs load. */
    public static final Target HOST =
            new Target("gcc", "size", "Install it, on Debian with 'apt-get install gcc libc6-dev'. Rigs with models only do not need it.",
            List.of("-fPIC"), List.of("-shared"), List.of("-lm"), ".so");

    /**
     * A bare Arm processor.
     *
     * @param processor what the compiler must know of it
     */
    public static Target bareArm(List<String> processor) {
        List<String> compile = new ArrayList<>(processor);
        compile.addAll(List.of("-ffunction-sections", "-fdata-sections"));
        List<String> linking = new ArrayList<>(processor);
        linking.addAll(List.of("-nostartfiles", "-Wl,--gc-sections", "-Wl,--no-warn-rwx-segments", "--specs=nosys.specs", "-T",
                "image.ld"));
        return new Target(BARE_ARM, "arm-none-eabi-size",
                "Install it, on Debian with 'apt-get install gcc-arm-none-eabi libnewlib-arm-none-eabi'.", compile, linking,
                List.of("-lm"), ".elf");
    }

    public Target {
        compile = List.copyOf(compile);
        linking = List.copyOf(linking);
        libraries = List.copyOf(libraries);
    }

    /** This target, or a finding that says how to get its compiler. */
    public Target orThrow() {
        if (Toolchain.find(compiler).isEmpty()) {
            throw FindingException.of(Place.build(""), "There is no " + compiler + " on this machine.", cure);
        }
        return this;
    }
}
