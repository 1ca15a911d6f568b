//! An enum as one of a few words.

use proc_macro2::TokenStream;
use quote::quote;
use syn::spanned::Spanned;
use syn::{Data, DeriveInput, Error, Ident, LitStr, Result};

use crate::doc::{kebab, sentence};

pub fn derive(input: &DeriveInput) -> Result<TokenStream> {
    let name = &input.ident;
    let Data::Enum(data) = &input.data else {
        return Err(Error::new(input.span(), "words are an enum"));
    };
    let mut variants = Vec::new();
    let mut words = Vec::new();
    let mut written = Vec::new();
    for variant in &data.variants {
        let mut word = kebab(&variant.ident.to_string());
        let mut told = false;
        for attribute in &variant.attrs {
            if attribute.path().is_ident("word") {
                if let Ok(text) = attribute.parse_args::<LitStr>() {
                    word = text.value();
                } else {
                    told = true;
                }
            }
        }
        let ident = &variant.ident;
        let about = sentence(&variant.attrs);
        if !told {
            written.push(quote!(crate::syntax::Word { word: #word, about: #about }));
        }
        variants.push(ident);
        words.push((word, told));
    }
    let word: Vec<&String> = words.iter().map(|(word, _)| word).collect();
    let count = variants.len();
    let of_files = variants.iter().zip(&words).filter(|(_, (_, told))| !told);
    let (known, meant): (Vec<&String>, Vec<&&Ident>) =
        of_files.map(|(variant, (word, _))| (word, variant)).unzip();
    Ok(quote! {
        #[automatically_derived]
        impl #name {
            /// Every one of them.
            pub const ALL: [#name; #count] = [#(#name::#variants),*];

            /// The word for it in files and ledgers.
            pub const fn as_str(self) -> &'static str {
                match self { #(#name::#variants => #word),* }
            }
        }

        #[automatically_derived]
        impl crate::syntax::Syntax for #name {
            fn read(at: crate::syntax::At<'_>) -> Option<Self> {
                let word = at.word(&[#(#known),*])?;
                Some([#(#name::#meant),*][word])
            }

            fn write(&self) -> crate::text::Value {
                crate::text::Value::Text(self.as_str().to_owned())
            }

            fn shape() -> crate::syntax::Shape {
                crate::syntax::Shape::Words(vec![#(#written),*])
            }
        }
    })
}
