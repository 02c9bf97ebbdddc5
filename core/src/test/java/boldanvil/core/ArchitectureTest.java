package boldanvil.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** The picture in docs/architecture.md, as rules. */
class ArchitectureTest {
    private static final JavaClasses CORE = new ClassFileImporter().withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("boldanvil.core");

    /** Each package with those of core it may use; further down means later in the way of the data. */
    private static final String[][] MAY_USE = {
        {"finding"},
        {"quantity", "finding"},
        {"escape"},
        {"user"},
        {"program"},
        {"instance", "program"},
        {"maths", "program"},
        {"diagram"},
        {"text", "maths", "program"},
        {"frame", "program"},
        {"network", "program", "quantity", "finding"},
        {"stock", "network", "text", "frame", "quantity", "maths", "program", "diagram"},
        {"files", "user", "diagram", "finding"},
        {"lower", "network", "diagram", "stock", "text", "maths", "program", "quantity", "finding"},
        {"jvm", "instance", "program"},
        {"coverage", "program"},
        {"output", "escape", "program"},
        {"c", "output", "escape", "program"},
        {"report", "user", "escape", "finding"},
        {"board", "files", "diagram", "finding", "program"},
        {"peripheral", "board", "c", "output", "escape", "frame", "instance", "program", "diagram", "quantity", "finding"},
        {"patch", "peripheral", "board", "frame", "report", "program", "diagram", "finding"},
        {"estimate", "peripheral", "board", "frame", "program"},
        {"edit", "network", "lower", "stock", "diagram", "quantity", "text", "program", "finding"},
        {"compare", "edit", "stock", "files", "diagram", "user", "finding"},
        {"replay", "sheet", "edit", "stock", "quantity", "simulate", "review", "peripheral", "jvm", "samples", "lower", "instance",
        "program", "diagram",
        "finding"},
        {"sheet", "edit", "report", "text", "escape", "review", "lower", "stock", "diagram", "program", "quantity", "finding"},
        {"tags", "iec", "output", "text", "link", "link.modbus", "diagram", "program", "quantity", "finding"},
        {"target", "samples", "estimate", "peripheral", "board", "simulate", "lower", "instance", "program", "diagram", "finding"},
        {"review", "target", "tags", "text", "iec", "estimate", "patch", "peripheral", "board", "c", "lower", "diagram", "program",
                "finding"},
        {"build", "peripheral", "board", "c", "output", "escape", "user", "frame", "program", "finding"},
        {"export", "text", "iec", "tags", "review", "build", "lower", "peripheral", "board", "output", "diagram", "program", "finding"},
        {"hdf5"},
        {"samples", "hdf5"},
        {"storage", "samples", "hdf5", "quantity", "finding"},
        {"transfer", "study", "user", "storage", "samples", "hdf5", "escape", "quantity", "finding"},
        {"runs", "simulate", "user", "transfer", "storage", "samples", "files", "hdf5", "quantity", "finding"},
        {"linear"},
        {"loop", "linear", "simulate", "edit", "stock", "lower", "jvm", "maths", "instance", "program", "diagram", "quantity",
            "finding"},
        {"asbuilt", "loop", "linear", "simulate", "review", "estimate", "peripheral", "board", "edit", "stock", "lower", "jvm", "instance",
                "program",
            "diagram", "quantity", "finding"},
        {"identify", "linear", "simulate", "edit", "stock", "lower", "jvm", "samples", "instance", "program", "diagram", "quantity",
                "finding"},
        {"measure", "samples", "quantity", "finding"},
        {"drawing", "files", "diagram", "finding"},
        {"simulate", "user", "lower", "instance", "program", "samples", "hdf5", "quantity", "finding"},
        {"link", "user", "program", "finding"},
        {"link.xcp", "link", "user", "program", "finding"},
        {"link.opcua", "link", "user", "program", "finding"},
        {"link.modbus", "link", "user", "program", "finding"},
        {"iec", "text", "output", "maths", "program", "finding"},
        {"plc", "text", "simulate", "jvm", "instance", "program", "finding"},
        {"control", "user", "link", "finding"},
        {"trial", "simulate", "measure", "samples", "lower", "instance", "program", "diagram", "quantity", "finding"},
        {"study", "escape", "quantity", "finding"},
        {"farm", "evidence", "bench", "study", "files", "diagram", "user", "finding"},
        {"evidence", "coverage", "study", "trial", "simulate", "bench", "build", "report", "samples", "lower", "program", "files",
                "diagram", "escape",
                "quantity",
                "finding"},
        {"bench", "coverage", "target", "study", "trial", "tags", "iec", "output", "edit", "stock", "export", "estimate", "review", "build",
                "simulate", "control", "link",
                "samples",
                "runs", "jvm",
        "peripheral", "board",
        "lower",
        "files", "diagram", "escape", "user",
            "instance", "program", "quantity", "finding"},
    };

    /** Each library with the packages that may use it. */
    private static final String[][] LIBRARIES = {
        {"org.slf4j", "user"},
        {"org.apache.ignite", "farm"},
        {"org.bouncycastle", "farm"},
        {"javax.net.ssl", "farm"},
        {"tools.jackson", "files", "frame", "board", "storage", "transfer", "runs", "control", "bench", "link"},
        {"com.fasterxml.jackson.annotation", "simulate"},
        {"com.networknt", "files"},
        {"freemarker", "evidence"},
        {"org.apache.commons.csv", "trial", "evidence", "edit", "tags", "transfer", "report", "bench"},
        {"org.apache.pdfbox", "report", "sheet"},
        {"org.apache.fontbox", "sheet"},
        {"org.antlr", "text"},
        {"org.eclipse.elk", "sheet"},
        {"org.eclipse.jgit", "compare"},
        {"org.ejml", "network", "stock", "measure", "simulate", "linear", "loop", "identify"},
        {"org.hipparchus", "study", "network", "measure", "linear", "loop", "identify"},
        {"io.jhdf", "storage", "transfer"},
        {"org.eclipse.milo", "link.opcua"},
        {"com.digitalpetri.modbus", "link.modbus"},
        {"javax.measure", "quantity"},
        {"tech.units", "quantity"},
        {"javax.crypto", "user", "link.xcp"},
        {"javax.xml", "drawing", "iec"},
        {"org.w3c.dom", "drawing"},
        {"org.xml.sax", "drawing"},
    };

    @Test
    void packagesDependOnlyInTheDirectionOfThePicture() {
        for (String[] rule : MAY_USE) {
            List<String> allowed = new ArrayList<>(List.of("java.."));
            for (String p : rule) {
                allowed.add("boldanvil.core." + p);
            }
            for (String[] library : LIBRARIES) {
                if (List.of(library).subList(1, library.length).contains(rule[0])) {
                    allowed.add(library[0] + "..");
                }
            }
            classes().that().resideInAPackage("boldanvil.core." + rule[0]).should().onlyDependOnClassesThat()
                    .resideInAnyPackage(allowed.toArray(String[]::new)).check(CORE);
        }
    }

    @Test
    void packagesFormNoCircle() {
        slices().matching("boldanvil.core.(*)..").should().beFreeOfCycles().check(CORE);
    }

    @Test
    void everyPackageHasItsRule() {
        var ruled = java.util.Arrays.stream(MAY_USE).map(r -> "boldanvil.core." + r[0]).toList();
        assertThat(CORE.stream().map(c -> c.getPackageName()).distinct()).containsExactlyInAnyOrderElementsOf(ruled);
    }

    @Test
    void theCoreSeesNoInterface() {
        noClasses().should().dependOnClassesThat().resideInAnyPackage("javafx..", "java.awt..", "javax.swing..").check(CORE);
    }

    @Test
    void everyPackageOfEveryModuleSaysWhatItIsFor() throws IOException {
        List<Path> silent = new ArrayList<>();
        for (String module : new String[] {"core", "standin", "app", "benchmarks"}) {
            Path source = Path.of("..", module, "src/main/java");
            if (!Files.isDirectory(source)) {
                continue;
            }
            try (var folders = Files.walk(source)) {
                for (Path f : folders.filter(Files::isDirectory).toList()) {
                    try (var files = Files.list(f)) {
                        var names = files.map(x -> x.getFileName().toString()).filter(n -> n.endsWith(".java")).toList();
                        if (!names.isEmpty() && !names.contains("package-info.java")) {
                            silent.add(f);
                        }
                    }
                }
            }
        }
        assertThat(silent).isEmpty();
    }
}
