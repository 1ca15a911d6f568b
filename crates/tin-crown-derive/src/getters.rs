//! A struct's fields, each with a method that reads it.

use proc_macro2::TokenStream;
use quote::quote;
use syn::spanned::Spanned;
use syn::{
    Attribute, Data, DeriveInput, Error, GenericArgument, Meta, PathArguments, Result, Type,
    Visibility,
};

pub fn derive(input: &DeriveInput) -> Result<TokenStream> {
    let name = &input.ident;
    let Data::Struct(data) = &input.data else {
        return Err(Error::new(input.span(), "getters read a struct's fields"));
    };
    let mut getters = Vec::new();
    for field in &data.fields {
        let Some(ident) = &field.ident else {
            return Err(Error::new(field.span(), "getters need named fields"));
        };
        let mut skip = false;
        let mut copy = false;
        for attribute in field
            .attrs
            .iter()
            .filter(|attribute| is(attribute, "getters"))
        {
            attribute.parse_nested_meta(|meta| {
                skip |= meta.path.is_ident("skip");
                copy |= meta.path.is_ident("copy");
                Ok(())
            })?;
        }
        if skip || matches!(field.vis, Visibility::Inherited) {
            continue;
        }
        let docs = field.attrs.iter().filter(|attribute| is(attribute, "doc"));
        let (gives, read) = read(&field.ty, copy, &quote!(self.#ident));
        getters.push(quote! {
            #(#docs)*
            pub fn #ident(&self) -> #gives { #read }
        });
    }
    Ok(quote! {
        #[automatically_derived]
        impl #name { #(#getters)* }
    })
}

fn is(attribute: &Attribute, name: &str) -> bool {
    match &attribute.meta {
        Meta::Path(path) => path.is_ident(name),
        Meta::List(list) => list.path.is_ident(name),
        Meta::NameValue(value) => value.path.is_ident(name),
    }
}

/// What a getter gives for a field of a type, and how.
fn read(ty: &Type, copy: bool, field: &TokenStream) -> (TokenStream, TokenStream) {
    if copy || is_small(ty) {
        return (quote!(#ty), field.clone());
    }
    match generic(ty) {
        Some((outer, inner)) if outer == "Vec" => (quote!(&[#inner]), quote!(&#field)),
        Some((outer, inner)) if outer == "Box" => (quote!(&#inner), quote!(&#field)),
        Some((outer, inner)) if outer == "Option" => match generic(inner) {
            _ if is_small(inner) => (quote!(#ty), field.clone()),
            Some((boxed, inner)) if boxed == "Box" => {
                (quote!(Option<&#inner>), quote!(#field.as_deref()))
            }
            _ if last(inner).is_some_and(|name| name == "String") => {
                (quote!(Option<&str>), quote!(#field.as_deref()))
            }
            _ => (quote!(Option<&#inner>), quote!(#field.as_ref())),
        },
        _ if last(ty).is_some_and(|name| name == "String") => (quote!(&str), quote!(&#field)),
        _ => (quote!(&#ty), quote!(&#field)),
    }
}

/// Numbers, indices, times and points are given as copies.
fn is_small(ty: &Type) -> bool {
    const SMALL: [&str; 13] = [
        "bool", "u8", "u16", "u32", "u64", "u128", "usize", "f64", "Amount", "Tick", "Ticks",
        "Vec2", "Bounds",
    ];
    last(ty).is_some_and(|name| SMALL.contains(&name.as_str()) || name.ends_with("Ix"))
}

fn last(ty: &Type) -> Option<String> {
    match ty {
        Type::Path(path) => Some(path.path.segments.last()?.ident.to_string()),
        _ => None,
    }
}

/// A type with one argument: its name, and the argument.
fn generic(ty: &Type) -> Option<(String, &Type)> {
    let Type::Path(path) = ty else { return None };
    let segment = path.path.segments.last()?;
    let PathArguments::AngleBracketed(arguments) = &segment.arguments else {
        return None;
    };
    match arguments.args.first()? {
        GenericArgument::Type(inner) => Some((segment.ident.to_string(), inner)),
        _ => None,
    }
}
