//! Setters: one for each key, called as the field, or as the key where that names one of many.

use proc_macro2::TokenStream;
use quote::quote;
use syn::{Ident, Type};

use crate::key::{Key, generic};

/// The setters of a table.
pub fn setters(table: &Ident, keys: &[Key]) -> TokenStream {
    let setters = keys.iter().filter_map(setter);
    quote! {
        #[automatically_derived]
        impl #table { #(#setters)* }
    }
}

fn setter(key: &Key) -> Option<TokenStream> {
    let Key { field, about, .. } = key;
    let name = match key.set.as_deref() {
        Some("") => return None,
        _ if key.flatten => return None,
        Some(name) => Ident::new(name, field.span()),
        // Of a map one is added, and the key names one.
        None if generic(&key.ty, "Map").is_some() => Ident::new(&key.name, field.span()),
        None => field.clone(),
    };
    let value = key.value();
    let doc = format!("`{}`: {}", key.name, lowered(about));
    let (arguments, set) = if let Some(one) = generic(value, "Map") {
        (
            quote!(name: impl Into<String>, value: #one),
            quote!(self.#field.insert(name.into(), value);),
        )
    } else if let Some(one) = generic(value, "Vec").filter(|_| key.set.is_some()) {
        let (ty, value) = argument(one);
        let all = if key.optional() {
            quote!(self.#field.get_or_insert_default())
        } else {
            quote!(self.#field)
        };
        (quote!(value: #ty), quote!(#all.push(#value);))
    } else if let Some(one) = generic(value, "Vec") {
        let (ty, each) = argument(one);
        let all = quote!(values.into_iter().map(|value| #each).collect());
        let all = if key.optional() {
            quote!(Some(#all))
        } else {
            all
        };
        (
            quote!(values: impl IntoIterator<Item = #ty>),
            quote!(self.#field = #all;),
        )
    } else {
        let (ty, value) = if key.flag {
            (None, quote!(true))
        } else {
            let (ty, value) = argument(value);
            (Some(quote!(value: #ty)), value)
        };
        let value = if key.optional() {
            quote!(Some(#value))
        } else {
            value
        };
        (quote!(#ty), quote!(self.#field = #value;))
    };
    Some(quote! {
        #[doc = #doc]
        #[must_use]
        pub fn #name(mut self, #arguments) -> Self {
            #set
            self
        }
    })
}

/// How a value is taken, and what is made of it.
fn argument(ty: &Type) -> (TokenStream, TokenStream) {
    let Type::Path(path) = ty else {
        return (quote!(#ty), quote!(value));
    };
    let converted = path.path.segments.last().is_some_and(|last| {
        ["String", "Chance", "When", "Motion"].contains(&last.ident.to_string().as_str())
    });
    if converted {
        (quote!(impl Into<#ty>), quote!(value.into()))
    } else {
        (quote!(#ty), quote!(value))
    }
}

/// A sentence as it goes on after a colon.
fn lowered(sentence: &str) -> String {
    let mut letters = sentence.chars();
    letters
        .next()
        .map(|first| first.to_lowercase().chain(letters).collect())
        .unwrap_or_default()
}
