/** Helpers for tests of all modules: parts in few words, one part by itself, and an evaluator that reads the IR literally. */
package boldanvil.core.testing;
