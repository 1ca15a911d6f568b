//! An enum as a word, or as a table with the one key that says which.

use proc_macro2::TokenStream;
use quote::quote;
use syn::spanned::Spanned;
use syn::{Data, DeriveInput, Error, Expr, Fields, Ident, LitStr, Result, Type};

use crate::doc::{kebab, sentence};

/// A variant, and how it is written.
struct Variant<'i> {
    ident: &'i Ident,
    name: String,
    about: String,
    value: Option<&'i Type>,
    /// Whether its name alone stands for the default of its value.
    word: bool,
    /// Whether its value stands without a key.
    plain: bool,
    text: Option<String>,
    range: Option<Expr>,
}

pub fn derive(input: &DeriveInput) -> Result<TokenStream> {
    let Data::Enum(data) = &input.data else {
        return Err(Error::new(input.span(), "a choice is an enum"));
    };
    let variants: Vec<Variant<'_>> = data
        .variants
        .iter()
        .map(|variant| {
            let value = match &variant.fields {
                Fields::Unit => None,
                Fields::Unnamed(fields) if fields.unnamed.len() == 1 => Some(&fields.unnamed[0].ty),
                _ => return Err(Error::new(variant.span(), "one value at the most")),
            };
            let mut found = Variant {
                ident: &variant.ident,
                name: kebab(&variant.ident.to_string()),
                about: sentence(&variant.attrs),
                value,
                word: value.is_none(),
                plain: false,
                text: None,
                range: None,
            };
            for attribute in &variant.attrs {
                if !attribute.path().is_ident("choice") {
                    continue;
                }
                attribute.parse_nested_meta(|meta| {
                    if meta.path.is_ident("word") {
                        found.word = true;
                    } else if meta.path.is_ident("plain") {
                        found.plain = true;
                    } else if meta.path.is_ident("name") {
                        found.name = meta.value()?.parse::<LitStr>()?.value();
                    } else if meta.path.is_ident("range") {
                        found.range = Some(meta.value()?.parse()?);
                    } else if meta.path.is_ident("text") {
                        found.text = Some(meta.value()?.parse::<LitStr>()?.value());
                    } else {
                        return Err(meta.error("no such word about a choice"));
                    }
                    Ok(())
                })?;
            }
            Ok(found)
        })
        .collect::<Result<_>>()?;
    Ok(Choice {
        name: &input.ident,
        about: sentence(&input.attrs),
        variants,
    }
    .generate())
}

/// An enum, and how its variants are written.
struct Choice<'i> {
    name: &'i Ident,
    about: String,
    variants: Vec<Variant<'i>>,
}

impl<'i> Choice<'i> {
    fn generate(&self) -> TokenStream {
        let name = self.name;
        let (read, write, shape) = (self.read(), self.write(), self.shape());
        let (over, set, blank) = (self.over(), self.set(), self.blank());
        quote! {
            #[automatically_derived]
            impl crate::syntax::Syntax for #name {
                fn read(at: crate::syntax::At<'_>) -> Option<Self> {
                    #read
                }

                fn write(&self) -> crate::text::Value {
                    #write
                }

                fn shape() -> crate::syntax::Shape {
                    #shape
                }

                fn over(&self, base: &Self) -> Self {
                    #over
                }

                fn set(
                    &mut self,
                    steps: &[crate::finding::Step],
                    at: crate::syntax::At<'_>,
                ) -> Result<(), crate::syntax::set::Missed> {
                    #set
                }

                fn blank() -> Option<Self> {
                    #blank
                }
            }
        }
    }

    /// Those that are a table of one key.
    fn keyed(&self) -> impl Iterator<Item = &Variant<'i>> + Clone {
        let all = self.variants.iter();
        all.filter(|variant| variant.value.is_some() && !variant.plain)
    }

    /// Those that are a word.
    fn worded(&self) -> impl Iterator<Item = &Variant<'i>> + Clone {
        self.variants.iter().filter(|variant| variant.word)
    }

    /// Those whose value stands without a key.
    fn plain(&self) -> impl Iterator<Item = &Variant<'i>> + Clone {
        self.variants.iter().filter(|variant| variant.plain)
    }

    fn read(&self) -> TokenStream {
        let name = self.name;
        let key: Vec<&String> = self.keyed().map(|variant| &variant.name).collect();
        let ident = self.keyed().map(|variant| variant.ident);
        let table = (!key.is_empty()).then(|| {
            quote! {
                if at.is_table() {
                    return at.table(|fields| {
                        let found = [#(fields.get(#key).map(#name::#ident)),*];
                        fields.one_of(&[#(#key),*]);
                        found.into_iter().flatten().next()
                    });
                }
            }
        });
        let words: Vec<&String> = self.worded().map(|variant| &variant.name).collect();
        let nth = 0..words.len();
        let meant = self
            .worded()
            .map(|Variant { ident, value, .. }| match value {
                None => quote!(#name::#ident),
                Some(_) => quote!(#name::#ident(Default::default())),
            });
        let plain: Vec<TokenStream> = self
            .plain()
            .map(|Variant { ident, value, .. }| {
                quote!(return <#value as crate::syntax::Syntax>::read(at).map(#name::#ident);)
            })
            .collect();
        let texts = self.keyed().filter(|variant| variant.text.is_some());
        let texts: Vec<&String> = texts.map(|variant| &variant.name).collect();
        let word = quote! {
            at.word_or(&[#(#words),*], &[#(#texts),*], &[#(#key),*]).and_then(|word| match word {
                #(#nth => Some(#meant),)*
                _ => None,
            })
        };
        let rest = match (words.is_empty(), plain.is_empty()) {
            (true, true) => quote!(at.wrong("a table")),
            (true, false) => quote!(#(#plain)*),
            (false, true) => word,
            (false, false) => quote! {
                if at.text().is_some() {
                    return #word;
                }
                #(#plain)*
            },
        };
        quote!(#table #rest)
    }

    fn write(&self) -> TokenStream {
        let name = self.name;
        let write = self.variants.iter().map(|variant| {
            let Variant {
                ident,
                name: key,
                value,
                word,
                plain,
                ..
            } = variant;
            let text = quote!(crate::text::Value::Text(#key.to_owned()));
            match value {
                None => quote!(#name::#ident => #text),
                Some(_) if *plain => {
                    quote!(#name::#ident(value) => crate::syntax::Syntax::write(value))
                }
                Some(_) => {
                    let short =
                        word.then(|| quote!(if *value == Default::default() { return #text; }));
                    quote! {
                        #name::#ident(value) => {
                            #short
                            crate::text::Value::Table(vec![crate::text::Entry::new(
                                #key,
                                crate::syntax::Syntax::write(value),
                            )])
                        }
                    }
                }
            }
        });
        quote!(match self { #(#write),* })
    }

    fn shape(&self) -> TokenStream {
        let mut shapes = Vec::new();
        let word: Vec<TokenStream> = self
            .worded()
            .map(
                |Variant {
                     name: word, about, ..
                 }| { quote!(crate::syntax::Word { word: #word, about: #about }) },
            )
            .collect();
        if !word.is_empty() {
            shapes.push(quote!(crate::syntax::Shape::Words(vec![#(#word),*])));
        }
        shapes.extend(self.plain().map(Variant::shape));
        let keys: Vec<TokenStream> = self.keyed().map(Variant::key).collect();
        if !keys.is_empty() {
            let (title, about) = (self.name.to_string(), &self.about);
            let key = self.keyed().map(|variant| &variant.name);
            shapes.push(quote! {
                crate::syntax::Shape::Table(crate::syntax::TableShape {
                    name: #title,
                    about: #about,
                    keys: vec![#(#keys),*],
                    together: vec![crate::syntax::Together::OneOf(&[#(#key),*])],
                })
            });
        }
        quote!(crate::syntax::Shape::Any(vec![#(#shapes),*]))
    }

    fn over(&self) -> TokenStream {
        let name = self.name;
        let with_value = self
            .variants
            .iter()
            .filter(|variant| variant.value.is_some());
        let ident = with_value.map(|variant| variant.ident);
        quote! {
            match (self, base) {
                #((#name::#ident(own), #name::#ident(base)) => {
                    #name::#ident(crate::syntax::Syntax::over(own, base))
                })*
                _ => self.clone(),
            }
        }
    }

    fn set(&self) -> TokenStream {
        let name = self.name;
        let key: Vec<&String> = self.keyed().map(|variant| &variant.name).collect();
        let arms = self.keyed().map(
            |Variant {
                 ident,
                 name: key,
                 value,
                 ..
             }| {
                quote! {
                    #key => {
                        let mut own = match self {
                            #name::#ident(own) => Some(own.clone()),
                            _ => None,
                        };
                        crate::syntax::set::part::<#value>(&mut own, rest, at)
                            .map_err(crate::syntax::set::Missed::further)?;
                        if let Some(own) = own {
                            *self = #name::#ident(own);
                        }
                        return Ok(());
                    }
                }
            },
        );
        let within = self.plain().map(|Variant { ident, value, .. }| {
            quote! {
                let mut own = match self {
                    #name::#ident(own) => Some(own.clone()),
                    _ => None,
                };
                match crate::syntax::set::part::<#value>(&mut own, steps, at) {
                    Err(missed) if missed.depth == 0 => {}
                    done => {
                        if let Some(own) = own {
                            *self = #name::#ident(own);
                        }
                        return done;
                    }
                }
            }
        });
        quote! {
            let Some((first, rest)) = steps.split_first() else {
                return crate::syntax::set::whole(self, steps, at);
            };
            if let crate::finding::Step::Key(key) = first {
                match &**key {
                    #(#arms)*
                    _ => {}
                }
            }
            let _ = rest;
            #(#within)*
            let known: &[&str] = &[#(#key),*];
            Err(crate::syntax::set::Missed::here(known.iter().copied()))
        }
    }

    /// Whatever it begins as, a path then says which.
    fn blank(&self) -> TokenStream {
        let name = self.name;
        let mut all = self.variants.iter();
        match all.find(|variant| variant.value.is_none()) {
            Some(Variant { ident, .. }) => quote!(Some(#name::#ident)),
            None => quote!(None),
        }
    }
}

impl Variant<'_> {
    /// The shape of its value.
    fn shape(&self) -> TokenStream {
        let Variant {
            value, text, range, ..
        } = self;
        let (text, range) = (text.iter(), range.iter());
        quote! {
            <#value as crate::syntax::Syntax>::shape()
                #(.naming(#text))*
                #(.within(&#range))*
        }
    }

    /// What is declared of its key.
    fn key(&self) -> TokenStream {
        let Variant { name, about, .. } = self;
        let shape = self.shape();
        quote! {
            crate::syntax::Key {
                name: #name,
                about: #about,
                required: false,
                due: false,
                default: None,
                absent: None,
                shape: #shape,
            }
        }
    }
}
