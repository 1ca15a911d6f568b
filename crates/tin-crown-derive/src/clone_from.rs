//! A clone, field by field, that can take the place of another and use its memory.

use proc_macro2::TokenStream;
use quote::quote;
use syn::spanned::Spanned;
use syn::{Data, DeriveInput, Error, Fields, Result};

pub fn derive(input: &DeriveInput) -> Result<TokenStream> {
    let name = &input.ident;
    let Data::Struct(data) = &input.data else {
        return Err(Error::new(
            input.span(),
            "only a struct is cloned field by field",
        ));
    };
    let Fields::Named(fields) = &data.fields else {
        return Err(Error::new(input.span(), "the fields need names"));
    };
    let (mut kept, mut scratch) = (Vec::new(), Vec::new());
    for field in &fields.named {
        let is_scratch = |attribute: &syn::Attribute| attribute.path().is_ident("scratch");
        match field.attrs.iter().any(is_scratch) {
            true => scratch.push(&field.ident),
            false => kept.push(&field.ident),
        }
    }
    Ok(quote! {
        #[automatically_derived]
        impl Clone for #name {
            fn clone(&self) -> Self {
                Self {
                    #(#kept: self.#kept.clone(),)*
                    #(#scratch: self.#scratch.clone(),)*
                }
            }

            fn clone_from(&mut self, other: &Self) {
                #(self.#kept.clone_from(&other.#kept);)*
            }
        }
    })
}
