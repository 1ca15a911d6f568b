//! Derives by which `tin-crown` declares each key of an encounter file once.
//!
//! They serve that crate alone: what they generate names its private `syntax` module.
//!
//! - [`Table`](derive@Table): a struct is a table, its fields are the keys, their doc comments the
//!   sentences of the schema and the reference.
//! - [`Words`](derive@Words): an enum without data is one of a few words.
//! - [`Choice`](derive@Choice): an enum is a word, or a table with the one key that says which.
//! - [`CloneFrom`](derive@CloneFrom): a clone that can use the memory of another.
//! - [`Getters`](derive@Getters): what a plan has is read through a method for each field.

mod builder;
mod choice;
mod clone_from;
mod doc;
mod getters;
mod key;
mod table;
mod words;

use proc_macro::TokenStream;
use syn::{DeriveInput, parse_macro_input};

/// Reads, writes, describes and lays over a table whose keys are the fields of a struct, and builds
/// it key by key.
///
/// On the struct, `#[table(…)]`:
///
/// - `most = LIMIT`: how many of them a list may have;
/// - `short = Type`: it may also be written as a value of that type (`impl Short`);
/// - `parts`: it is laid over another part by part, instead of as a whole; `parts = function` first
///   asks the function what remains of the other (`fn(&Self, &Self) -> Self`);
/// - `all`: unless every required key can be read, nothing is;
/// - `one_of("a", "b")`, `some_of(…)`, `at_most_one(…)`: keys that depend on each other;
/// - `label = function`: the name by which a path finds it in a list (`fn(&Self) -> Option<&str>`);
/// - `no_builder`: no setters.
///
/// On a field, `#[key(…)]`:
///
/// - `name = "for"`: the key, where it is not the field's name;
/// - `required`: without it the file is wrong; `due`: required once everything is laid over;
/// - `default = "60"`: what holds without it, as written in a file; `absent = "at once"`: the same in
///   words;
/// - `range = limits::SPEED`: the numbers that it takes; `amount`: a number of whole thousandths;
/// - `text = "selector"`: what a text names;
/// - `flatten`: its keys stand among those of this table; `flatten, hides = "like sprite"`: all but those;
/// - `whole`: laid over as a whole;
/// - `set = "tag"`: the setter, where it is not the field's name; `set = ""`: none;
/// - `flag`: the setter of a `bool` takes no argument.
#[proc_macro_derive(Table, attributes(table, key))]
pub fn table(input: TokenStream) -> TokenStream {
    let input = parse_macro_input!(input as DeriveInput);
    table::derive(&input)
        .unwrap_or_else(syn::Error::into_compile_error)
        .into()
}

/// Reads, writes and describes one of a few words; `as_str` and `ALL` come with it.
///
/// A variant is its name in kebab-case, or what `#[word("+y")]` says. `#[word(told)]`: a ledger has
/// it, a file cannot.
#[proc_macro_derive(Words, attributes(word))]
pub fn words(input: TokenStream) -> TokenStream {
    let input = parse_macro_input!(input as DeriveInput);
    words::derive(&input)
        .unwrap_or_else(syn::Error::into_compile_error)
        .into()
}

/// Reads, writes, describes and lays over a word, or a table with the one key that says which.
///
/// A variant without data is a word. One with a value is a table of one key. `#[choice(word)]`: the
/// key alone, as a word, stands for the default of its value. `#[choice(name = "at")]`: the word or
/// key, where it is not the variant's name. `text` and `range` are as for a key. `#[choice(plain)]`: the value stands by itself, without a
/// key; what it reads is tried when the value is neither a known word nor a table.
#[proc_macro_derive(Choice, attributes(choice))]
pub fn choice(input: TokenStream) -> TokenStream {
    let input = parse_macro_input!(input as DeriveInput);
    choice::derive(&input)
        .unwrap_or_else(syn::Error::into_compile_error)
        .into()
}

/// `Clone`, whose `clone_from` goes field by field and so uses the memory that is there.
///
/// `#[scratch]`: what the field holds says nothing, and `clone_from` leaves it as it is.
#[proc_macro_derive(CloneFrom, attributes(scratch))]
pub fn clone_from(input: TokenStream) -> TokenStream {
    let input = parse_macro_input!(input as DeriveInput);
    clone_from::derive(&input)
        .unwrap_or_else(syn::Error::into_compile_error)
        .into()
}

/// A public method for each field that the crate sees, of the same name and with the same doc comment.
///
/// Numbers, indices, times and points come as copies, lists as slices, texts as `&str`, all else by
/// reference. `#[getters(copy)]`: this one too is a copy. `#[getters(skip)]`: none for this field, nor for
/// private ones.
#[proc_macro_derive(Getters, attributes(getters))]
pub fn getters(input: TokenStream) -> TokenStream {
    let input = parse_macro_input!(input as DeriveInput);
    getters::derive(&input)
        .unwrap_or_else(syn::Error::into_compile_error)
        .into()
}
