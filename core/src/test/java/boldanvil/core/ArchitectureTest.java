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
        {"program"},
        {"diagram"},
        {"text", "program"},
        {"frame", "program"},
        {"stock", "text", "frame", "quantity", "program"},
        {"files", "diagram", "finding"},
        {"user"},
        {"lower", "diagram", "stock", "text", "program", "quantity", "finding"},
        {"jvm", "program"},
        {"escape"},
        {"output", "escape", "program"},
        {"c", "output", "escape", "program"},
        {"board", "files", "diagram", "finding", "program"},
        {"peripheral", "board", "c", "output", "escape", "frame", "program", "diagram", "quantity", "finding"},
        {"patch", "peripheral", "board", "frame", "report", "program", "diagram", "finding"},
        {"hdf5"},
        {"runs", "escape", "files", "hdf5", "quantity", "finding"},
        {"measure", "runs", "quantity", "finding"},
        {"drawing", "files", "diagram", "finding"},
        {"report", "escape", "finding"},
        {"build", "escape", "user", "lower", "c", "output", "patch", "peripheral", "board", "frame", "diagram", "program", "finding"},
        {"simulate", "lower", "program", "runs", "hdf5", "quantity", "finding"},
        {"link", "program", "finding"},
        {"link.xcp", "link", "program", "finding"},
        {"control", "link", "finding"},
        {"bench", "escape", "user", "build", "simulate", "control", "link", "runs", "measure", "jvm", "peripheral", "board", "lower", "files", "diagram", "program", "quantity", "finding"},
    };

    /** Each library with the packages that may use it. */
    private static final String[][] LIBRARIES = {
        {"tools.jackson", "files", "frame", "board", "runs", "control", "bench"},
        {"com.networknt", "files"},
        {"org.apache.commons.csv", "runs", "report", "bench"},
        {"org.apache.pdfbox", "report"},
        {"org.antlr", "text"},
        {"org.ejml", "stock", "measure"},
        {"org.hipparchus", "measure"},
        {"io.jhdf", "runs"},
        {"javax.measure", "quantity"},
        {"tech.units", "quantity"},
        {"javax.crypto", "user", "link.xcp"},
        {"javax.xml", "drawing"},
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
