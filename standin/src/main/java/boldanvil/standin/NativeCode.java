package boldanvil.standin;

import boldanvil.core.finding.FindingException;
import java.lang.foreign.Arena;
import java.lang.foreign.FunctionDescriptor;
import java.lang.foreign.Linker;
import java.lang.foreign.MemoryLayout;
import java.lang.foreign.MemorySegment;
import java.lang.foreign.SymbolLookup;
import java.lang.foreign.ValueLayout;
import java.lang.invoke.MethodHandle;
import java.nio.file.Path;

/** A loaded shared library. */
final class NativeCode {
    private final Linker linker = Linker.nativeLinker();
    private final SymbolLookup symbols;
    private final Path file;

    /** @throws FindingException when the file is not a library this machine can load */
    NativeCode(Path file, Arena arena) {
        this.file = file;
        try {
            symbols = SymbolLookup.libraryLookup(file, arena);
        } catch (IllegalArgumentException e) {
            throw FindingException.of(file.toString(), "The image cannot be loaded on this machine.", "Build it again here.");
        }
    }

    /** A function without result; each argument is a pointer. */
    MethodHandle function(String name, int pointers) {
        var arguments = new MemoryLayout[pointers];
        java.util.Arrays.fill(arguments, ValueLayout.ADDRESS);
        return linker.downcallHandle(symbol(name), FunctionDescriptor.ofVoid(arguments));
    }

    /** A function without argument that returns a pointer to memory of a known size. */
    MemorySegment memory(String name, long bytes) {
        var handle = linker.downcallHandle(symbol(name), FunctionDescriptor.of(ValueLayout.ADDRESS));
        try {
            return ((MemorySegment) handle.invokeExact()).reinterpret(bytes);
        } catch (Throwable t) {
            throw new IllegalStateException(name, t);
        }
    }

    private MemorySegment symbol(String name) {
        return symbols.find(name).orElseThrow(() -> FindingException.of(file.toString(),
                "The image lacks the function " + name + ".", "Build it again; it comes from another version."));
    }
}
